import type { APIRoute } from "astro";
import { sitemap } from "../server/site";

export const GET: APIRoute = async ({ locals: { app } }) =>
  new Response(await sitemap(app), { headers: { "content-type": "application/xml; charset=utf-8", "cache-control": "public, max-age=300" } });
