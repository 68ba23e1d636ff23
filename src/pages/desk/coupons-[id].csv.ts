import type { APIRoute } from "astro";
import { z } from "zod";
import { deskUser } from "../../server/app/access";
import { codeFile } from "../../server/offers/coupons";

/** The codes of a coupon as a file, with the order that used each. */
export const GET: APIRoute = (visit) => codeFile(visit.locals.em, deskUser(visit), z.uuid().parse(visit.params["id"]));
