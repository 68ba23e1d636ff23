/// <reference types="astro/client" />
declare namespace App {
  interface Locals {
    app: import("./server/app/app").App;
    em: import("./store/orm").EntityManager;
    /** Who is signed in at the desk, if anyone. */
    user?: import("./store/entities").DeskUser;
    partner?: import("./store/entities").Partner;
    sessionToken?: string;
  }
}
