import type { APIRoute } from "astro";
import { z } from "zod";
import { stringify } from "csv-stringify/sync";
import { refusalResponse } from "../../server/app/endpoint";
import { mustWrite } from "../../server/app/session";
import { codesOf } from "../../server/offers/coupons";

/** The codes of a coupon as a file, with the order that used each. */
export const GET: APIRoute = async ({ params, locals: { em, user } }) => {
  try {
    mustWrite(user!);
    const codes = await codesOf(em, z.uuid().parse(params["id"]));
    return new Response(stringify(codes, { header: true, columns: ["code", "order", "at"], escape_formulas: true, record_delimiter: "windows" }), {
      headers: { "content-type": "text/csv; charset=utf-8", "content-disposition": 'attachment; filename="codes.csv"' },
    });
  } catch (error) {
    const refused = refusalResponse(error);
    if (refused) return refused;
    throw error;
  }
};
