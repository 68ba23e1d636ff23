import type { APIRoute } from "astro";

/** What searches are asked to leave alone (RFC 9309). */
export const GET: APIRoute = ({ locals: { app } }) =>
  new Response(
    `User-agent: *\nDisallow: /desk\nDisallow: /partner\nDisallow: /api\nDisallow: /preview\nSitemap: ${app.config.origin}/sitemap.xml\n`,
    {
      headers: { "content-type": "text/plain; charset=utf-8", "cache-control": "public, max-age=3600" },
    },
  );
