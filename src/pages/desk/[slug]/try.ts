import type { APIRoute } from "astro";
import { deskUser } from "../../../server/platform";
import { beginTrying } from "../../../server/site";

/** Lets somebody of the desk walk a launch as a buyer: a browser made up for it, drafts, test cards. */
export const GET: APIRoute = async (visit) => {
  const { app, em } = visit.locals;
  return visit.redirect(await beginTrying(app, em, deskUser(visit), visit.params["slug"]), 303);
};
