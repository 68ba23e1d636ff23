import type { APIRoute } from "astro";
import { createHash } from "node:crypto";
import { z } from "zod";
import { broadsideCss } from "../../../public/broadside";
import { previewPage } from "../../../server/pages/preview";

const hash = createHash("sha256").update(broadsideCss).digest("base64");

/** A draft as it would look; inert, and only inside the desk. */
export const GET: APIRoute = async ({ params, locals: { app, em } }) => {
  const id = z.uuid().safeParse(params["id"]);
  const body = id.success ? await previewPage(app, em, id.data) : undefined;
  if (!body) return new Response("There is no such page.", { status: 404 });
  return new Response(body, {
    headers: {
      "content-type": "text/html; charset=utf-8",
      "content-security-policy": `default-src 'none'; style-src 'sha256-${hash}'; font-src 'self'; img-src 'self'; frame-ancestors 'self'; form-action 'none'`,
    },
  });
};
