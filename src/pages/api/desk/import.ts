import type { APIRoute } from "astro";
import { describeError } from "../../../server/app/describeError";
import { refusalResponse } from "../../../server/app/endpoint";
import { mustWrite } from "../../../server/app/session";
import { mostArchived } from "../../../server/pages/archive";
import { bringIn, bringInRequest } from "../../../server/pages/bringIn";

/** Brings in a page, a template or a launch: the file's bytes as the body; `launch` and `address` say where a page goes. */
export const POST: APIRoute = async ({ request, locals, url }) => {
  try {
    // Before a byte of it is read.
    mustWrite(locals.user!);
    if (Number(request.headers.get("content-length") ?? 0) > mostArchived.zip) {
      const message = "The file weighs more than 200 MB. Nothing was brought in.";
      return Response.json({ code: "fields", message, fields: { file: message } }, { status: 422 });
    }
    const where = bringInRequest.parse({ launch: url.searchParams.get("launch"), address: url.searchParams.get("address") ?? "" });
    const body = new Uint8Array(await request.arrayBuffer());
    return Response.json(await bringIn(locals.em, locals.user!, body, where, locals.app.clock.now()));
  } catch (error) {
    const refused = refusalResponse(error);
    if (refused) return refused;
    locals.app.log.error(describeError(error), "a file could not be brought in");
    return Response.json({ code: "failed", message: "This failed here. Nothing was brought in; try again.", fields: {} }, { status: 500 });
  }
};
