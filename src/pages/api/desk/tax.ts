import type { APIRoute } from "astro";
import { taxRequest } from "../../../core/offers";
import { deskEndpoint } from "../../../server/app/endpoint";
import { changeTaxTable } from "../../../server/offers/taxTable";

export const POST: APIRoute = deskEndpoint(taxRequest, ({ em, user, body }) => changeTaxTable(em, user, body));
