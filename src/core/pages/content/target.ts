import { fault } from "../../words";
import { z } from "zod";
import type { LaunchPage } from "../../launch";

/** An address of another site; nothing but http and https, so that no link can carry a program. */
export const outsideAddress = z.url({ protocol: /^https?$/, message: fault("not_an_address") }).max(500);

/** Where a button leads. */
export const target = z.discriminatedUnion("to", [
  /** The next step of the launch, whatever that is. */
  z.object({ to: z.literal("next") }),
  /** A page of this launch, by its key. */
  z.object({ to: z.literal("page"), page: z.string().max(80) }),
  /** The checkout: a page of its own, or opened over this one. */
  z.object({ to: z.literal("checkout"), over: z.boolean() }),
  /** A form of this page, opened over it. */
  z.object({ to: z.literal("form"), block: z.string().max(40) }),
  /** The buyer's library. */
  z.object({ to: z.literal("library") }),
  /** An entry for the reader's calendar: of the opening or the closing of the doors, or of an episode, by its page's key. */
  z.object({ to: z.literal("calendar"), of: z.string().max(80) }),
  /** Another launch of the vendor, by its address. */
  z.object({ to: z.literal("launch"), launch: z.string().max(80) }),
  z.object({
    to: z.literal("outside"),
    url: outsideAddress,
    /** After an opt-in: hands on where the person came from, as `tracked` writes it. */
    keep: z.boolean().optional(),
  }),
]);
export type Target = z.infer<typeof target>;

/** The words of an address that say where somebody came from; `utm_` is what the trade's tools agree on (common practice). */
export const trackingOf = (query: URLSearchParams): string =>
  new URLSearchParams([...query].filter(([name, value]) => /^utm_[a-z_]{1,30}$/.test(name) && value.length <= 120).slice(0, 8)).toString();

/**
 * An address outside with where the person came from: the `utm_` words they came with, where the address has none of
 * the name, and the code of the partner who sent them in place of `{partner}`; empty where nobody did.
 */
export const tracked = (url: string, tracking: string, partner: string | undefined): string => {
  const address = new URL(url.replaceAll("{partner}", encodeURIComponent(partner ?? "")));
  for (const [name, value] of new URLSearchParams(trackingOf(new URLSearchParams(tracking))))
    if (!address.searchParams.has(name)) address.searchParams.set(name, value);
  return address.href;
};

/** What finding a way needs to know of a launch: its pages in visiting order. */
export interface LinkSource {
  slug: string;
  pages: Pick<LaunchPage, "key" | "kind" | "slug">[];
  /** The run of episodes, by their pages in order. */
  settings?: { episodes: { page: string; live?: unknown }[] };
}

/** The public address of a page. */
export const addressOf = (launch: string, page: { slug: string }): string => `/l/${launch}${page.slug ? `/${page.slug}` : ""}`;

/** The step that follows a page: the next of the run-up, then the launch's own address; from the sales page the checkout. */
export const nextStep = ({ slug, pages, settings }: LinkSource, key: string): string => {
  const here = pages.find((page) => page.key === key);
  const root = `/l/${slug}`;
  if (!here) return root;
  const first = (kind: LaunchPage["kind"]) => pages.find((page) => page.kind === kind);
  if (here.kind === "sales") {
    const checkout = first("checkout");
    return checkout ? addressOf(slug, checkout) : root;
  }
  if (here.kind !== "content" && here.kind !== "optin") return root;
  const episodes = (settings?.episodes ?? []).flatMap(({ page: name }) => pages.find((page) => page.key === name) ?? []);
  const at = episodes.indexOf(here);
  if (at >= 0 || (here.kind === "optin" && episodes.length > 0)) {
    const next = episodes[at + 1];
    const sales = first("sales");
    return next ? addressOf(slug, next) : sales ? addressOf(slug, sales) : root;
  }
  // A folder is a run: its pages lead to one another, and its last to the launch's own address.
  const folder = here.slug.split("/").slice(0, -1).join("/");
  const run = pages.filter((page) => page.kind === "content" && (here.kind === "optin" || page.slug.split("/").slice(0, -1).join("/") === folder));
  const next = here.kind === "optin" ? run[0] : run[run.findIndex((page) => page.key === key) + 1];
  return next ? addressOf(slug, next) : root;
};

/** The address a target stands for, seen from a page; undefined where it leads to nothing. */
export const hrefOf = (source: LinkSource, from: string, to: Target): string | undefined => {
  switch (to.to) {
    case "next":
      return nextStep(source, from);
    case "page": {
      const page = source.pages.find(({ key }) => key === to.page);
      return page && addressOf(source.slug, page);
    }
    case "checkout": {
      const page = source.pages.find(({ kind }) => kind === "checkout");
      return page && addressOf(source.slug, page);
    }
    case "form":
      return `#over-${to.block}`;
    case "library":
      return "/library";
    case "calendar": {
      const known = to.of === "opening" || to.of === "closing" || source.settings?.episodes.some(({ page }) => page === to.of);
      return known ? `/l/${source.slug}/calendar/${to.of}.ics` : undefined;
    }
    case "launch":
      return `/l/${to.launch}`;
    case "outside":
      return to.url;
  }
};
