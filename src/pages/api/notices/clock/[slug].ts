import type { APIRoute } from "astro";
import { receiveNotice, required } from "../../../../server/platform";
import { applyClockNotice } from "../../../../server/launch";
import { Launch } from "../../../../store/tables";

/** Starts a person's clock on a signed notice of an outside tool (Standard Webhooks). */
export const POST: APIRoute = async ({ request, params, locals: { app, em } }) => {
  const launch = required(await em.findOne(Launch, { slug: params["slug"] ?? "" }), "launch");
  const body = await request.text();
  return Response.json(await receiveNotice(app, `clock:${launch.id}`, launch.hookSecret, request.headers, body, applyClockNotice(launch.id)));
};
