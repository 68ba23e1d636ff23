import { subscribeAll } from "./server/reactions";
import { defineMiddleware } from "astro:middleware";
import { readSeenAs, readSeenAt } from "./core/launch";
import { can } from "./core/access";
import {
  answerFailure,
  type App,
  type Failure,
  failureOf,
  isOwnOrigin,
  logFailure,
  mustBeAllowed,
  Refusal,
  type RouteRule,
  ruleOf,
  sentWith,
  sessionSubject,
  sessionToken,
  theApp,
} from "./server/platform";
import { buyerOf } from "./server/delivery";
import { DeskUser, Partner } from "./store/tables";

// Signed by their sender, or made by a mail program on its own: no browser origin to check.
const withoutOrigin = new Set(["/api/notices/card-desk", "/api/notices/market", "/api/notices/launch/[slug]", "/unsubscribe"]);
const reading = new Set(["GET", "HEAD", "OPTIONS"]);
const doors = { desk: "/desk/sign-in", partner: "/partner/sign-in", buyer: "/library/sign-in" } as const;

// The development server starts here.
subscribeAll();

type Context = Parameters<Parameters<typeof defineMiddleware>[0]>[0];
type Next = Parameters<Parameters<typeof defineMiddleware>[0]>[1];

/** Who is signed in to the surface that a route belongs to, kept for the route. */
const recognise = async (context: Context, who: RouteRule["who"], pattern: string, now: Date): Promise<boolean> => {
  const { locals } = context;
  const desk = who === "desk" || pattern === "/desk/sign-in";
  const partner = who === "partner" || pattern === "/partner/sign-in";
  const library = who === "buyer" || pattern === "/library/sign-in";
  if (desk) {
    const id = await sessionSubject(locals.em, "desk", sessionToken(context, "desk"), now);
    locals.user = id ? ((await locals.em.findOne(DeskUser, { id, endedAt: null })) ?? undefined) : undefined;
  }
  if (partner) {
    const id = await sessionSubject(locals.em, "partner", sessionToken(context, "partner"), now);
    locals.partner = id ? ((await locals.em.findOne(Partner, { id })) ?? undefined) : undefined;
  }
  if (library) locals.buyer = await buyerOf(locals.em, sessionToken(context, "buyer"), now);
  return who === "anyone" || Boolean(who === "desk" ? locals.user : who === "partner" ? locals.partner : locals.buyer);
};

/** Lets a request through to its route, or answers why not. Goes by the route that the framework matched, never by the raw path. */
const admit = async (context: Context, app: App): Promise<Response | undefined> => {
  const { request, url, locals, routePattern: pattern } = context;
  const rule = ruleOf(pattern, url.pathname);
  if (!rule) throw new Refusal({ code: "no_page" });
  const method = request.method === "HEAD" ? "GET" : request.method;
  if (!reading.has(method) && !withoutOrigin.has(pattern) && !isOwnOrigin(request.headers.get("origin"), app.config.origin))
    throw new Refusal({ code: "wrong_origin" });
  const now = app.clock.now();
  if (!(await recognise(context, rule.who, pattern, now)) && rule.who !== "anyone") {
    if (pattern.startsWith("/api/")) throw new Refusal({ code: "signed_out", at: "desk" });
    const back = rule.who === "desk" ? `?to=${encodeURIComponent(url.pathname + url.search)}` : "";
    return context.redirect(`${doors[rule.who]}${back}`, 303);
  }
  if (rule.who !== "desk") return undefined;
  const permission = method === "GET" || method === "POST" ? rule.allow?.[method] : undefined;
  if (!permission) throw new Refusal({ code: "method", method: request.method });
  if (!can(locals.user, permission)) mustBeAllowed(locals.user!, permission);
  return undefined;
};

/** A failure within the frame of the desk, for whoever is signed in there and looks at a screen: its rooms are the ways back. Nothing where the frame fails as well. */
const inFrame = async ({ request, url, locals }: Context, failure: Failure, next: Next): Promise<Response | undefined> => {
  const screen = /^\/desk(\/|$)/.test(url.pathname) && request.headers.get("accept")?.includes("text/html");
  if (!locals.user || !screen || failure.status === 503) return undefined;
  // What went wrong may have left this unit of work unusable.
  locals.em = locals.app.fork();
  locals.failure = failure;
  return next("/desk/there-is-no-such-screen").catch(() => undefined);
};

/** One unit of work per request, who is signed in, and the checks that no route may forget. */
export const onRequest = defineMiddleware(async (context, next) => {
  const { request, url, locals, routePattern: pattern } = context;
  const app = await theApp();
  locals.app = app;
  locals.em = app.fork();
  let response: Response;
  try {
    locals.seen = { at: readSeenAt(url.searchParams.get("at")), as: readSeenAs(url.searchParams.get("as")) };
    locals.asOf = locals.seen.at ?? app.clock.now();
    locals.scope = { now: locals.asOf, past: locals.seen.at !== undefined };
    response = (await admit(context, app)) ?? (await next());
    // An address that no route answers, and a route that answers with nothing: both get words.
    if (response.status === 404 && !response.body && request.method !== "HEAD") throw new Refusal({ code: "no_page" });
  } catch (error) {
    // The desk writes its numbers as its vendor chose.
    const locale = /^\/(api\/)?desk(\/|$)/.test(url.pathname) ? app.vendor.locale : undefined;
    const failure = failureOf(error, !reading.has(request.method), locale);
    if (failure.unexpected || failure.status === 503) logFailure(app, error, url.pathname);
    // Forms of public pages: passwords are not written into a page again.
    const values = pattern === "/l/[...path]" ? sentWith(request) : undefined;
    response = (await inFrame(context, failure, next)) ?? answerFailure(app, failure, url.pathname, values && { action: url.pathname, values });
  }
  const { headers } = response;
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
  // Tokens of links go to no other site; our own forms still say where they come from.
  headers.set("referrer-policy", "same-origin");
  if (app.config.origin.startsWith("https:")) headers.set("strict-transport-security", "max-age=31536000");
  // What does not say that it is alike for everyone is somebody's own.
  if (!headers.has("cache-control")) headers.set("cache-control", "private, no-store");
  return response;
});
