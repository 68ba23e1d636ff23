import type { APIRoute } from "astro";
import { z } from "zod";
import { previewEmailTo } from "../../../server/emails";
import { deskLaunch } from "../../../server/launch";
import { deskUser } from "../../../server/platform";
import { emailPolicy } from "../../../ui/emails/emailPolicy";

/** An email of a launch as somebody gets it: inert, and only inside the desk. */
export const GET: APIRoute = async (visit) => {
  deskUser(visit);
  const { app, em } = visit.locals;
  const to = z.uuid().safeParse(visit.url.searchParams.get("to"));
  const { html } = await previewEmailTo(app, em, await deskLaunch(em, visit.params["slug"]), visit.params["id"] ?? "", { readerId: to.data });
  return new Response(html, {
    headers: {
      "content-type": "text/html; charset=utf-8",
      "cache-control": "private, no-store",
      "x-robots-tag": "noindex",
      "content-security-policy": `sandbox; ${emailPolicy}`,
    },
  });
};
