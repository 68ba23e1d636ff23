import type { Permission } from "../../../core/access";

const kib = 1024;
const mib = 1024 * kib;

/** What a route of the site is: whose it is, what its methods ask for, and how large a body it takes. */
export interface RouteRule {
  who: "anyone" | "desk" | "partner" | "buyer";
  /** Of the desk: the permission that each method asks for. A method that is not named is refused. */
  allow?: Partial<Record<"GET" | "POST", Permission>>;
  /** Bytes that a request's body may have. */
  mostBytes: number;
}

/** What a form or a JSON request may weigh, where a route does not say otherwise. */
const usual = 128 * kib;
/** A page's draft, a launch's settings, a path: large documents that are saved whole. */
const document = 4 * mib;

const look = (permission: Permission = "desk.view"): RouteRule => ({ who: "desk", allow: { GET: permission }, mostBytes: 0 });
const act = (permission: Permission, mostBytes = usual): RouteRule => ({ who: "desk", allow: { POST: permission }, mostBytes });
const anyone = (mostBytes = usual): RouteRule => ({ who: "anyone", mostBytes });

/** Uploads and files that are brought in, in bytes. */
export const mostUploaded = { media: 80 * mib, exportFile: 200 * mib } as const;

/**
 * Every route of the site by its pattern, as the framework matches it. What does not stand here is not answered: a route
 * that somebody forgets to declare is closed, and how an address is spelled opens nothing.
 */
export const routes: Record<string, RouteRule> = {
  "/": anyone(0),
  "/robots.txt": anyone(0),
  "/sitemap.xml": anyone(0),
  "/c/[file]": anyone(0),
  "/calendar/[token].ics": anyone(0),
  "/media/[name]": anyone(0),
  "/preview/[token]": anyone(0),
  "/unsubscribe": anyone(4 * kib),
  "/l/[...path]": anyone(),
  "/api/notices/card-desk": anyone(),
  "/api/notices/market": anyone(),
  "/api/notices/clock/[slug]": anyone(),
  "/api/test/clock": anyone(4 * kib),
  "/desk/sign-in": anyone(8 * kib),
  "/desk/first": anyone(8 * kib),
  "/desk/welcome": anyone(8 * kib),
  "/desk/forgot": anyone(4 * kib),
  "/desk/new-password": anyone(8 * kib),
  "/partner/forgot": anyone(4 * kib),
  "/partner/new-password": anyone(8 * kib),
  "/library/forgot": anyone(4 * kib),
  "/library/new-password": anyone(8 * kib),
  "/desk/sign-out": anyone(4 * kib),
  "/partner/sign-in": anyone(8 * kib),
  "/partner/sign-out": anyone(4 * kib),
  "/partner/welcome": anyone(8 * kib),
  "/library/sign-in": anyone(8 * kib),
  "/library/sign-out": anyone(4 * kib),
  "/library/open": anyone(4 * kib),

  "/partner": { who: "partner", mostBytes: 0 },
  "/library": { who: "buyer", mostBytes: 8 * kib },

  "/desk": look(),
  "/desk/new": look("launch.edit"),
  "/desk/money": look(),
  "/desk/products": look(),
  "/desk/waiting": look(),
  "/desk/settings": look(),
  "/desk/coupons": look(),
  "/desk/coupons-[id].csv": look("coupon.export"),
  "/desk/tax": look(),
  "/desk/orders": look(),
  "/desk/orders/enter": look("order.enter"),
  "/desk/orders/list.csv": look("order.export"),
  "/desk/orders/[id]": look(),
  "/desk/preview/[id]": look(),
  "/desk/[slug]/audience-[key].csv": look("audience.export"),
  "/desk/[slug]/bells.ics": look(),
  "/desk/[slug]/clock": look(),
  "/desk/[slug]/comments": look(),
  "/desk/[slug]/leaks": look(),
  "/desk/[slug]/markets": look(),
  "/desk/[slug]/offers": look(),
  "/desk/[slug]/pages": look(),
  "/desk/[slug]/pages/[...key]": look(),
  "/desk/[slug]/partners": look(),
  "/desk/[slug]/people": look(),
  "/desk/[slug]/retarget": look(),
  "/desk/[slug]/score": look(),
  "/desk/[slug]/seen": look(),
  "/desk/[slug]/try": look("test.run"),

  "/api/desk/launches": act("launch.edit"),
  "/api/desk/import": act("launch.import", mostUploaded.exportFile),
  "/api/desk/export/[kind]/[id]": look("launch.export"),
  "/api/desk/[slug]/clock/change": act("launch.edit", document),
  "/api/desk/[slug]/clock/secret": act("launch.secret"),
  // Works out what a change would do; writes nothing.
  "/api/desk/[slug]/clock/summary": act("desk.view", document),
  "/api/desk/[slug]/clock/undo": act("launch.edit"),
  "/api/desk/[slug]/comments": act("comment.moderate"),
  "/api/desk/[slug]/copy": act("launch.edit"),
  "/api/desk/[slug]/archive": act("launch.edit"),
  "/api/desk/[slug]/delete": act("launch.edit"),
  "/api/desk/[slug]/delay": act("recovery.edit"),
  "/api/desk/[slug]/look": act("page.edit"),
  // A picture comes along in base64.
  "/api/desk/[slug]/market/[step]": act("listing.edit", 12 * mib),
  "/api/desk/[slug]/offers/assume": act("path.edit"),
  "/api/desk/[slug]/offers/add-checkout": act("path.edit"),
  "/api/desk/[slug]/offers/path": act("path.edit", document),
  "/api/desk/[slug]/offers/view": act("desk.view"),
  "/api/desk/[slug]/page": act("page.edit"),
  "/api/desk/[slug]/publish": act("page.publish"),
  "/api/desk/[slug]/partners/decide": act("partner.edit"),
  "/api/desk/[slug]/partners/word": act("partner.edit"),
  "/api/desk/[slug]/people": act("desk.view"),
  "/api/desk/[slug]/people/count": look(),
  "/api/desk/[slug]/audiences": look(),
  "/api/desk/recurring-payments/[id]/end": act("recurring.end"),
  "/api/desk/coupons/[id]/stop": act("coupon.edit"),
  "/api/desk/coupons/[id]/archive": act("coupon.edit"),
  "/api/desk/coupons/[id]/delete": act("coupon.edit"),
  "/api/desk/coupons/make": act("coupon.edit"),
  "/api/desk/media": { who: "desk", allow: { GET: "desk.view", POST: "page.edit" }, mostBytes: mostUploaded.media },
  "/api/desk/media/[id]": act("page.edit"),
  "/api/desk/orders/[id]/receipt": act("order.receipt"),
  "/api/desk/orders/[id]/refund": act("order.refund"),
  "/api/desk/orders/[id]/send": act("order.capture"),
  "/api/desk/orders/enter": act("order.enter"),
  "/api/desk/pages/[id]/address": act("page.edit"),
  // What is public leaves it: archiving asks for the permission to publish besides, in the use case.
  "/api/desk/pages/[id]/archive": act("page.edit"),
  "/api/desk/pages/[id]/delete": act("page.edit"),
  "/api/desk/pages/[id]/bump": act("page.edit"),
  "/api/desk/pages/[id]/copy": act("page.edit"),
  "/api/desk/pages/[id]/draft": act("page.edit", document),
  "/api/desk/pages/[id]/presence": act("page.edit"),
  "/api/desk/pages/[id]/publish": act("page.publish"),
  "/api/desk/pages/[id]/restore": act("page.edit"),
  "/api/desk/pages/[id]/share": act("page.share"),
  "/api/desk/pages/[id]/variants/add": act("page.edit"),
  "/api/desk/pages/[id]/variants/drop": act("page.edit"),
  "/api/desk/pages/[id]/variants/weights": act("page.edit"),
  "/api/desk/pages/[id]/variants/winner": act("page.edit"),
  "/api/desk/pages/[id]/versions": act("desk.view"),
  "/api/desk/products/[id]/copy": act("product.edit"),
  "/api/desk/products/[id]/picture": act("product.edit"),
  "/api/desk/products/[id]/price": act("product.edit"),
  "/api/desk/products/[id]/save": act("product.edit"),
  "/api/desk/settings/vendor": act("vendor.edit"),
  "/api/desk/settings/retention": act("vendor.edit"),
  "/api/desk/settings/invite": act("team.edit"),
  "/api/desk/settings/invitations/[id]": act("team.edit"),
  "/api/desk/settings/members/[id]": act("team.edit"),
  "/api/desk/settings/password": act("account.edit"),
  "/api/desk/settings/sessions": act("account.edit"),
  "/api/desk/tax": act("tax.edit"),
  "/api/desk/work/retry": act("work.retry"),
  "/api/desk/templates": act("page.edit"),
  "/api/desk/templates/[id]": act("page.edit"),
};

/** The rule of a matched route. Inherited names (`constructor`) are no routes. */
export const ruleOf = (pattern: string): RouteRule | undefined => (Object.hasOwn(routes, pattern) ? routes[pattern] : undefined);
