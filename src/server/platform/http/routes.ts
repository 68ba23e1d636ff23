import { endpoints } from "../../../contract";
import { type Endpoint, pathAt } from "../../../contract/endpoint";
import type { Permission } from "../../../core/access";

const kib = 1024;

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

const look = (permission: Permission = "desk.view"): RouteRule => ({ who: "desk", allow: { GET: permission }, mostBytes: 0 });
const anyone = (mostBytes = usual): RouteRule => ({ who: "anyone", mostBytes });

/**
 * Every route of the site by its pattern, as the framework matches it. What does not stand here is not answered: a route
 * that somebody forgets to declare is closed, and how an address is spelled opens nothing.
 */
export const routes: Record<string, RouteRule> = {
  "/": anyone(0),
  "/robots.txt": anyone(0),
  "/sitemap.xml": anyone(0),
  "/c/[file]": anyone(0),
  "/e/[token]": anyone(0),
  "/calendar/[token].ics": anyone(0),
  "/media/[name]": anyone(0),
  "/preview/[token]": anyone(0),
  "/unsubscribe": anyone(4 * kib),
  "/l/[...path]": anyone(),
  "/api/notices/card-desk": anyone(),
  "/api/notices/market": anyone(),
  "/api/notices/launch/[slug]": anyone(),
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
  // No screen of its own: what stands at an address of the desk where there is none, and where a screen fails.
  "/desk/[...missing]": look(),
  "/desk/new": look("launch.edit"),
  "/desk/money": look(),
  "/desk/products": look(),
  "/desk/waiting": look(),
  "/desk/settings": look(),
  "/desk/webhooks": look("webhook.edit"),
  "/desk/coupons": look(),
  "/desk/coupons-[id].csv": look("coupon.export"),
  "/desk/tax": look(),
  "/desk/orders": look(),
  "/desk/orders/enter": look("order.enter"),
  "/desk/orders/list.csv": look("order.export"),
  "/desk/orders/[id]": look(),
  "/desk/people": look(),
  "/desk/people/[id]": look(),
  "/desk/people/import": look("person.import"),
  "/desk/people/list.csv": look("person.export"),
  "/desk/people/refused-[id].csv": look("person.import"),
  "/desk/people/rules": look(),
  "/desk/preview/[id]": look(),
  "/desk/[slug]/audience-[key].csv": look("audience.export"),
  "/desk/[slug]/bells.ics": look(),
  "/desk/[slug]/clock": look(),
  "/desk/[slug]/comments": look(),
  "/desk/[slug]/emails": look(),
  "/desk/[slug]/emails/[email]": look(),
  "/desk/[slug]/email-[id]": look(),
  "/desk/email-proof": look(),
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

  /** Endpoints are declared by the contract, each with its permission. */
  "/api/desk/[...path]": { who: "desk", allow: {}, mostBytes: 0 },
};

const contracted = "/api/desk/[...path]";

/** The rules of declared endpoints, by their patterns. */
export const rulesFor = (declared: readonly Endpoint[]): Record<string, RouteRule> => {
  const rules: Record<string, RouteRule> = {};
  for (const { method, path, permission, mostBytes } of declared) {
    const pattern = `/api/desk/${path}`;
    const rule = rules[pattern];
    rules[pattern] = { who: "desk", allow: { ...rule?.allow, [method]: permission }, mostBytes: Math.max(rule?.mostBytes ?? 0, mostBytes) };
  }
  return rules;
};

/** The rules of the endpoints that the contract declares. */
export const contractRules = rulesFor(endpoints);

/**
 * The rule of a matched route, and at an endpoint of the contract that of the endpoint. Undefined where nothing is declared. Inherited names
 * (`constructor`) are no routes.
 */
export const ruleOf = (pattern: string, pathname: string): RouteRule | undefined => {
  if (pattern !== contracted) return Object.hasOwn(routes, pattern) ? routes[pattern] : undefined;
  const found = pathAt(Object.keys(contractRules), pathname);
  return found && contractRules[found.path];
};
