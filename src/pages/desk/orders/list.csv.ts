import type { APIRoute } from "astro";
import { deskUser } from "../../../server/platform";
import { listLaunches } from "../../../server/launch";
import { orderFile, orderFilterOf } from "../../../server/checkout";

/** What is shown of the orders, as a file. */
export const GET: APIRoute = async (visit) => {
  const { em, asOf } = visit.locals;
  return orderFile(em, deskUser(visit), orderFilterOf(visit.url.searchParams, await listLaunches(em)), asOf);
};
