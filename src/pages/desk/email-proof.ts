import type { APIRoute } from "astro";
import { emailPolicy } from "../../ui/emails/emailPolicy";

/** The empty document into which the editor draws an email: it runs nothing, and may hold the inline styles that mail programs need. */
export const GET: APIRoute = () =>
  new Response("<!doctype html><html lang='en'><head><title>Proof</title></head><body></body></html>", {
    headers: { "content-type": "text/html; charset=utf-8", "cache-control": "private, no-store", "content-security-policy": emailPolicy },
  });
