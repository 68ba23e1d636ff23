import type { APIRoute } from "astro";
import { taxRequest } from "../../../core/offers";
import { deskEndpoint } from "../../../server/platform";
import { changeTaxTable } from "../../../server/products";

export const POST: APIRoute = deskEndpoint(taxRequest, ({ em, user, body }) => changeTaxTable(em, user, body));
