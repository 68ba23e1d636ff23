import type { APIRoute } from "astro";
import { deskUser } from "../../../server/platform/access/access";
import { listLaunches } from "../../../server/launch/deskLaunch";
import { orderFile } from "../../../server/checkout/orderFile";
import { orderFilterOf } from "../../../server/checkout/orderFilter";

/** What is shown of the orders, as a file. */
export const GET: APIRoute = async (visit) => {
  const { em, asOf } = visit.locals;
  return orderFile(em, deskUser(visit), orderFilterOf(visit.url.searchParams, await listLaunches(em)), asOf);
};
