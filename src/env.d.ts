/// <reference types="astro/client" />
declare namespace App {
  interface Locals {
    app: import("./server/platform").App;
    em: import("./store/orm").EntityManager;
    /** Who is signed in at the desk, if anyone. */
    user?: import("./store/tables").DeskUser;
    partner?: import("./store/tables").Partner;
    /** The buyer who is signed in to their library. */
    buyer?: import("./store/tables").Contact;
    /** What is said where a request to a screen of the desk was not carried out. */
    failure?: import("./server/platform").Failure;
    /** Whose view, at which instant, a screen of the desk shows. Without an instant it is now. */
    seen: { at?: Date; as: import("./core/launch").SeenAs };
    /** The instant as of which figures are shown: that of `seen`, or now. */
    asOf: Date;
    /** The same as a scope of figures. */
    scope: { now: Date; past: boolean };
  }
}
