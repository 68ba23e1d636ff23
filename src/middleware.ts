import { defineMiddleware } from "astro:middleware";
import { readSeenAs, readSeenAt } from "./core/launch";
import { theApp } from "./server/app/app";
import { sessionSubject } from "./server/app/session";
import { sessionToken } from "./server/app/sessionCookie";
import { buyerOf } from "./server/people/buyers";
import { DeskUser, Partner } from "./store/entities";

// Signed by their sender, or made by a mail program on its own: no browser origin to check.
const withoutOrigin = ["/api/notices/", "/unsubscribe"];
const reading = new Set(["GET", "HEAD", "OPTIONS"]);

const fromElsewhere = (request: Request, url: URL): boolean => {
  if (reading.has(request.method) || withoutOrigin.some((path) => url.pathname.startsWith(path))) return false;
  const origin = request.headers.get("origin");
  return origin === null || !URL.canParse(origin) || new URL(origin).host !== request.headers.get("host");
};

/** One unit of work per request, who is signed in, and the checks that no route may forget. */
export const onRequest = defineMiddleware(async (context, next) => {
  const { request, url, locals } = context;
  if (fromElsewhere(request, url)) {
    return Response.json({ code: "wrong_origin", message: "This request does not come from this site. Nothing was changed." }, { status: 403 });
  }
  const app = await theApp();
  locals.app = app;
  locals.em = app.fork();
  const now = app.clock.now();
  locals.seen = { at: readSeenAt(url.searchParams.get("at")), as: readSeenAs(url.searchParams.get("as")) };
  locals.asOf = locals.seen.at ?? now;
  const desk = url.pathname.startsWith("/desk") || url.pathname.startsWith("/api/desk");
  const portal = url.pathname.startsWith("/partner") || url.pathname.startsWith("/api/partner");
  if (desk) {
    const token = sessionToken(context, "desk");
    const id = await sessionSubject(locals.em, "desk", token, now);
    locals.user = id ? ((await locals.em.findOne(DeskUser, { id })) ?? undefined) : undefined;
    const open = url.pathname === "/desk/sign-in" || url.pathname === "/api/desk/sign-in";
    if (!locals.user && !open) {
      if (url.pathname.startsWith("/api/")) return Response.json({ code: "signed_out", message: "Sign in at the desk first." }, { status: 401 });
      return context.redirect(`/desk/sign-in?to=${encodeURIComponent(url.pathname + url.search)}`, 303);
    }
  }
  const library = url.pathname.startsWith("/library");
  if (library) {
    const token = sessionToken(context, "buyer");
    locals.buyer = await buyerOf(locals.em, token, now);
    const open = url.pathname === "/library/sign-in" || url.pathname === "/library/open";
    if (!locals.buyer && !open) return context.redirect("/library/sign-in", 303);
  }
  if (portal) {
    const token = sessionToken(context, "partner");
    const id = await sessionSubject(locals.em, "partner", token, now);
    locals.partner = id ? ((await locals.em.findOne(Partner, { id })) ?? undefined) : undefined;
    const open = url.pathname === "/partner/sign-in" || url.pathname === "/partner/welcome" || url.pathname === "/api/partner/sign-in";
    if (!locals.partner && !open) return context.redirect("/partner/sign-in", 303);
  }
  const response = await next();
  const headers = response.headers;
  const policy = headers.get("content-security-policy");
  // Routes that answer a page of their own (public pages, previews) bring a whole policy; the framework brings the hashes
  // of its scripts and styles, and the rest is added here. Style attributes carry sizes of drawings, never words of anyone.
  // Hot reload works with inline scripts and styles that have no hash.
  if (!import.meta.env.DEV && headers.get("content-type")?.startsWith("text/html") && !policy?.includes("default-src")) {
    headers.set(
      "content-security-policy",
      `${policy ? `${policy.replace(/;\s*$/, "")}; ` : ""}default-src 'self'; style-src-attr 'unsafe-inline'; img-src 'self' data:; frame-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'`,
    );
  }
  headers.set("x-content-type-options", "nosniff");
  headers.set("referrer-policy", "same-origin");
  if (desk || portal || library) headers.set("cache-control", "private, no-store");
  return response;
});
