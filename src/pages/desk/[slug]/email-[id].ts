import type { APIRoute } from "astro";
import { z } from "zod";
import { previewEmailTo } from "../../../server/emails";
import { deskLaunch } from "../../../server/launch";
import { deskUser } from "../../../server/platform";

/** An email of a launch as somebody gets it: inert, and only inside the desk. */
export const GET: APIRoute = async (visit) => {
  deskUser(visit);
  const { app, em } = visit.locals;
  const to = z.uuid().safeParse(visit.url.searchParams.get("to"));
  const { html } = await previewEmailTo(app, em, await deskLaunch(em, visit.params["slug"]), visit.params["id"] ?? "", to.data);
  return new Response(html, {
    headers: {
      "content-type": "text/html; charset=utf-8",
      "cache-control": "private, no-store",
      "x-robots-tag": "noindex",
      "content-security-policy":
        "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'self'; form-action 'none'",
    },
  });
};
