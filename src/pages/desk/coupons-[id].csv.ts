import type { APIRoute } from "astro";
import { z } from "zod";
import { deskUser } from "../../server/platform";
import { codeFile } from "../../server/products";

/** The codes of a coupon as a file, with the order that used each. */
export const GET: APIRoute = (visit) => codeFile(visit.locals.em, deskUser(visit), z.uuid().parse(visit.params["id"]));
