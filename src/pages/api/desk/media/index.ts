import type { APIRoute } from "astro";
import { refusalResponse } from "../../../../server/app/endpoint";
import { describeError } from "../../../../server/app/describeError";
import { mustWrite } from "../../../../server/app/session";
import { listMedia, mostBytes, upload } from "../../../../server/pages/media";

/** All uploads. */
export const GET: APIRoute = async ({ locals }) => Response.json({ media: await listMedia(locals.em) });

/** Takes an upload: the file's bytes as the body, its name in `x-file-name`, percent-encoded. */
export const POST: APIRoute = async ({ request, locals }) => {
  try {
    // Before a byte of it is read.
    mustWrite(locals.user!);
    if (Number(request.headers.get("content-length") ?? 0) > mostBytes.video) {
      const message = "This file weighs more than 80 MB. Put films of that size where films are kept, and give their address.";
      return Response.json({ code: "fields", message, fields: { file: message } }, { status: 422 });
    }
    const name = decodeURIComponent(request.headers.get("x-file-name") ?? "upload");
    return Response.json(await upload(locals.em, locals.user!, name, Buffer.from(await request.arrayBuffer()), locals.app.clock.now()));
  } catch (error) {
    const refused = refusalResponse(error);
    if (refused) return refused;
    locals.app.log.error(describeError(error), "upload failed");
    return Response.json({ code: "failed", message: "The upload failed here. Nothing was kept; try again.", fields: {} }, { status: 500 });
  }
};
