import type { APIRoute } from "astro";
import { deskUser } from "../../../server/app/access";
import { listLaunches } from "../../../server/launch/deskLaunch";
import { orderFile } from "../../../server/offers/orderFile";
import { orderFilterOf } from "../../../server/offers/orderFilter";

/** What is shown of the orders, as a file. */
export const GET: APIRoute = async (visit) => {
  const { em, asOf } = visit.locals;
  return orderFile(em, deskUser(visit), orderFilterOf(visit.url.searchParams, await listLaunches(em)), asOf);
};
