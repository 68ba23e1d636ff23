import type { APIRoute } from "astro";
import { receiveNotice, required } from "../../../../server/platform";
import { applyOutsideNotice } from "../../../../server/launch";
import { Launch } from "../../../../store/tables";

/** Takes a signed notice of an outside tool about a person (Standard Webhooks). */
export const POST: APIRoute = async ({ request, params, locals: { app, em } }) => {
  const launch = required(await em.findOne(Launch, { slug: params["slug"] ?? "" }), "launch");
  const body = await request.text();
  return Response.json(await receiveNotice(app, `launch:${launch.id}`, launch.hookSecret, request.headers, body, applyOutsideNotice(launch.id)));
};
