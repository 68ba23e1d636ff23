import type { APIRoute } from "astro";
import { taxRequest } from "../../../core/offers";
import { deskEndpoint } from "../../../server/platform/http/endpoint";
import { changeTaxTable } from "../../../server/products/taxTable";

export const POST: APIRoute = deskEndpoint(taxRequest, ({ em, user, body }) => changeTaxTable(em, user, body));
