import type { APIRoute } from "astro";
import { deskUser } from "../../../server/platform";
import { listLaunches } from "../../../server/launch";
import { orderFile, orderFilterOf, orderSortOf, ordersAskedBy } from "../../../server/checkout";

/** What is shown of the orders, as a file. */
export const GET: APIRoute = async (visit) => {
  const { em, asOf } = visit.locals;
  const asked = ordersAskedBy(visit.url);
  return orderFile(em, deskUser(visit), orderFilterOf(asked, await listLaunches(em)), asOf, orderSortOf(asked));
};
