import { createHash, randomUUID } from "node:crypto";
import { mayStart, view, windowFor, type AddressView, type LaunchPage, type LaunchView, type Onlooker, type PageKind } from "../../core/launch";
import { declineSentence, type TaxedAmount } from "../../core/offers";
import { fill, type CompiledPage } from "../../core/pages";
import { broadsideCss } from "../../public/broadside";
import { countdownBlocks } from "../../public/countdown";
import {
  checkoutStartForm,
  goOn,
  notice,
  offerForms,
  optedInNotice,
  optInForm,
  payForm,
  priceBox,
  receipt,
  waitingBlock,
  type Errors,
  type Values,
} from "../../public/forms";
import type { Html } from "../../public/html";
import { Charge, Contact, Order, OrderLine, type Checkout } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { App } from "../app/app";
import { readLink } from "../app/signedLink";
import { loadBundle, type LaunchBundle } from "../launch/bundle";
import { identify, isPersonal, onlookerOf, personIdOf, startByVisit, stopClock, stopsAtPage, visitStarts, type Identity } from "../launch/persons";
import { currentCheckout, restoreCheckout } from "../offers/checkout";
import { finishPath, nextAddress } from "../offers/offerPath";
import { mainProductAt, quote } from "../offers/quote";
import { recordTouch } from "../partners/touch";
import { personOf } from "../people/identity";
import { consentSentence } from "../people/optIn";
import { recoveryDueAt } from "../../core/leaks";
import { queueEmail } from "../emails/queueEmail";

export interface PublicRequest {
  slug: string;
  path: string;
  query: URLSearchParams;
  /** From the first-party cookie; undefined on a first visit. */
  visitorId?: string;
  /** The person's link that an earlier visit left in this browser. */
  keptLink?: string;
  /** Only looked at (a HEAD request, a browser that fetches ahead): starts and stops no clock. */
  passive?: boolean;
  acceptLanguage?: string;
  /** A form that came back: what was typed, and what is wrong with it. */
  form?: { values: Values; errors: Errors; message?: string; status?: number };
}

export interface PublicAnswer {
  status: number;
  body: string;
  headers: Record<string, string>;
  cookies?: string[];
}

export const visitorCookie = "ib_v";
export const linkCookie = "ib_k";
const isVisitorId = (text: string | undefined): text is string =>
  /^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/.test(text ?? "");

/** The visitor's id in a `Cookie` header, if it is one. */
export const visitorOf = (cookies: string | null | undefined): string | undefined => {
  const value = /(?:^|;\s*)ib_v=([^;]+)/.exec(cookies ?? "")?.[1];
  return isVisitorId(value) ? value : undefined;
};

/** The person's link kept in a `Cookie` header. Whether it is a true one is found out when it is read. */
export const keptLinkOf = (cookies: string | null | undefined): string | undefined => /(?:^|;\s*)ib_k=([\w.-]+)/.exec(cookies ?? "")?.[1];

/** The region a browser says its language is from, as a first guess of the country until the checkout knows it. */
export const guessCountry = (acceptLanguage: string | undefined): string | undefined => /^[a-z]{2,3}-([A-Z]{2})\b/.exec(acceptLanguage ?? "")?.[1];

const styleHash = createHash("sha256").update(broadsideCss).digest("base64");
const baseHeaders = (app: App): Record<string, string> => ({
  "content-type": "text/html; charset=utf-8",
  // Each answer depends on the person and the instant.
  "cache-control": "private, no-store",
  "content-security-policy": `default-src 'none'; script-src 'self'; style-src 'sha256-${styleHash}'; font-src 'self'; img-src 'self'; frame-src ${new URL(app.cards.fieldUrl).origin}; form-action 'self' ${new URL(app.cards.fieldUrl).origin}; base-uri 'none'; frame-ancestors 'none'`,
  "x-content-type-options": "nosniff",
  "referrer-policy": "same-origin",
});

const redirect = (app: App, location: string, visitorId?: string, link?: string): PublicAnswer => ({
  status: 303,
  body: "",
  headers: { ...baseHeaders(app), location },
  cookies: [...(visitorId ? [cookie(app, visitorCookie, visitorId)] : []), ...(link ? [cookie(app, linkCookie, link)] : [])],
});

/** A first-party cookie that no script reads. An empty value takes it away. */
export const cookie = (app: App, name: string, value: string): string =>
  `${name}=${value}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${value ? 31_536_000 : 0}${app.config.origin.startsWith("https:") ? "; Secure" : ""}`;

const messagePage = (app: App, status: number, headline: string, text: string): PublicAnswer => ({
  status,
  headers: { ...baseHeaders(app), "x-robots-tag": "noindex" },
  body: `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${headline}</title><style>${broadsideCss}</style></head><body><main class="sheet"><h1>${headline}</h1><p class="lead">${text}</p></main></body></html>`,
});

interface Room {
  app: App;
  em: EntityManager;
  bundle: LaunchBundle;
  request: PublicRequest;
  visitorId: string;
  now: Date;
  /** Who looks, by their own clock. */
  identity: Identity;
  who: Onlooker;
  /** What this person sees, and the page that answers. */
  seen: LaunchView;
  address: AddressView;
  page: LaunchPage;
  /** The published words of the page that answers. */
  words: { button: string };
}
type Fillings = { price?: Html; notice?: Html; form?: Html };
type Filled = Fillings | { go: string };
type Filler = (room: Room) => Filled | Promise<Filled>;

const listForm: Filler = ({ app, bundle, request, words, page }) => ({
  notice: request.query.has("listed") ? optedInNotice() : undefined,
  form: request.query.has("listed")
    ? undefined
    : optInForm(
        `/l/${bundle.launch.slug}/do/opt-in`,
        page.key,
        words.button,
        consentSentence(app.config.INKBELL_VENDOR),
        request.form?.values ?? {},
        request.form?.errors ?? {},
      ),
});

const sales: Filler = ({ bundle, seen, address, words }) => ({
  price: priceBox(
    address.price!,
    seen.seats,
    bundle.product.taxMode,
    words.button,
    `/l/${bundle.launch.slug}/checkout`,
    bundle.product.refundDays,
    bundle.launch.zone,
  ),
});

/** Where the button of a content page leads: the next one, and after the last the launch's own address. */
export const nextContent = (bundle: LaunchBundle, key: string): string => {
  const run = bundle.pages.filter(({ kind }) => kind === "content");
  const next = run[run.findIndex((page) => page.key === key) + 1];
  return `/l/${bundle.launch.slug}${next ? `/${next.slug}` : ""}`;
};

const content: Filler = ({ bundle, page, words }) => ({ form: goOn(nextContent(bundle, page.key), words.button) });

/** An open checkout that is looked at again is active: its email to the lost buyer waits from now. */
const stayActive = async (em: EntityManager, bundle: LaunchBundle, who: Onlooker, checkout: Checkout, now: Date): Promise<void> => {
  if (!checkout.contactId || now.getTime() - checkout.lastActivityAt.getTime() < 15_000) return;
  await em.transactional(async (tx) => {
    await tx.execute("update checkout set last_activity_at = ? where id = ? and paid_at is null", [now, checkout.id]);
    const dueAt = recoveryDueAt(now, bundle.launch.recoveryDelayMinutes, windowFor(bundle.plan, who, now));
    if (dueAt) {
      const key = `recovery:${bundle.launch.id}:${checkout.contactId}`;
      await queueEmail(tx, { key, kind: "recovery", launchId: bundle.launch.id, contactId: checkout.contactId!, checkoutId: checkout.id, dueAt });
    }
  });
};

const checkout: Filler = async ({ app, em, bundle, request, visitorId, who, now, words }) => {
  const base = `/l/${bundle.launch.slug}`;
  const open = await currentCheckout(em, bundle, visitorId);
  const startAction = `${base}/do/start`;
  const message = request.form?.message ? notice(request.form.message) : undefined;
  if (!open || open.paidAt) {
    const again = open?.paidAt && !request.form ? notice("You have bought this already. A new order would be charged again.", false) : undefined;
    return { notice: message ?? again, form: checkoutStartForm(startAction, request.form?.values ?? {}, request.form?.errors ?? {}) };
  }
  const kept: Values = { email: open.email ?? "", firstName: open.firstName ?? "", country: open.country ?? "" };
  const fieldsWrong = Object.keys(request.form?.errors ?? {}).some((name) => name !== "cardToken");
  if (request.query.has("change") || fieldsWrong) {
    return { notice: message, form: checkoutStartForm(startAction, { ...kept, ...request.form?.values }, request.form?.errors ?? {}) };
  }
  const [charge] = await em.find(Charge, { checkoutId: open.id, stepId: null }, { orderBy: { createdAt: -1 }, limit: 1 });
  if (charge?.state === "pending") return { form: waitingBlock(`${base}/checkout`) };
  if (charge?.state === "challenge") return { go: charge.challengeUrl! };
  await stayActive(em, bundle, who, open, now);
  const amount = await quote(em, await mainProductAt(em, bundle, now), open.country!, now);
  const declined = charge?.state === "declined" ? notice(declineSentence(charge.declineCode ?? undefined)) : undefined;
  const form = payForm(
    {
      action: `${base}/do/pay`,
      editHref: `${base}/checkout?change`,
      checkout: open.id,
      productName: bundle.product.name,
      amount,
      currency: bundle.product.currency,
      taxMode: bundle.product.taxMode,
      cardFieldUrl: `${app.cards.fieldUrl}?parent=${encodeURIComponent(app.config.origin)}`,
      button: words.button,
    },
    kept,
    request.form?.errors ?? {},
  );
  return { notice: message ?? declined, form };
};

/** The order behind an offer or thank-you page, by its signed link; undefined without one. */
const orderOf = async ({ app, em, bundle, request, now }: Pick<Room, "app" | "em" | "bundle" | "request" | "now">): Promise<Order | undefined> => {
  const id = await readLink(app.config.INKBELL_SECRET, "order", request.query.get("o"), now);
  return id ? ((await em.findOne(Order, { id, launchId: bundle.launch.id })) ?? undefined) : undefined;
};

const offer: Filler = async (room) => {
  const { em, bundle, request, now, words } = room;
  const order = (await orderOf(room))!;
  const o = request.query.get("o")!;
  const next = await nextAddress(em, bundle, order.id);
  if (next !== request.path) return { go: `/l/${bundle.launch.slug}/${next}?o=${o}` };
  const step = bundle.steps.find(({ page }) => page.slug === request.path)!;
  const [charge] = await em.find(Charge, { checkoutId: order.checkoutId!, stepId: step.id }, { orderBy: { createdAt: -1 }, limit: 1 });
  if (charge?.state === "pending") return { form: waitingBlock(`/l/${bundle.launch.slug}/${request.path}?o=${o}`) };
  if (charge?.state === "challenge") return { go: charge.challengeUrl! };
  const amount: TaxedAmount = await quote(em, step.product, order.country, now);
  const action = `/l/${bundle.launch.slug}/do/decide`;
  return {
    notice: charge?.state === "declined" ? notice(declineSentence(charge.declineCode ?? undefined)) : undefined,
    form: offerForms({
      action,
      order: o,
      step: step.id,
      yes: words.button,
      amount,
      currency: order.currency,
      productName: step.product.name,
      last4: order.cardLast4 ?? "",
    }),
  };
};

const thanks: Filler = async (room) => {
  const { em, bundle, now } = room;
  const order = (await orderOf(room))!;
  if ((await nextAddress(em, bundle, order.id)) === room.request.path) await finishPath(em, order, now);
  const [lines, contact] = await Promise.all([em.find(OrderLine, { orderId: order.id }), em.findOneOrFail(Contact, { id: order.contactId })]);
  lines.sort((a, b) => (a.role === b.role ? 0 : a.role === "front" ? -1 : 1));
  return {
    form: receipt({
      number: order.number,
      currency: order.currency,
      email: contact.email,
      again: { href: `/l/${bundle.launch.slug}`, label: room.words.button },
      lines: lines.map((line) => ({ name: line.name, gross: line.grossMinor, tax: line.taxMinor })),
    }),
  };
};

const fillers: Record<PageKind, Filler> = { optin: listForm, sales, checkout, offer, thanks, closed: listForm, content };
const eventKinds: Partial<Record<PageKind, "visited" | "saw_sales">> = {
  sales: "saw_sales",
  optin: "visited",
  closed: "visited",
  checkout: "visited",
  content: "visited",
};

const addressOf = (seen: LaunchView, path: string): AddressView => seen.addresses.find(({ slug }) => slug === path)!;

/** Facts about who looks, as far as the asked address needs them: most pages of a launch with fixed dates need none. */
const lookUp = async (room: Pick<Room, "app" | "em" | "bundle" | "request" | "now" | "identity">, page: LaunchPage): Promise<Onlooker> => {
  const { bundle, request, identity } = room;
  const behindOrder = page.kind === "offer" || page.kind === "thanks";
  const [who, order, open] = [
    isPersonal(bundle.plan) ? await onlookerOf(room.em, bundle, identity) : {},
    behindOrder ? await orderOf(room) : undefined,
    // Only a checkout looks back: the grace time asks when it was begun.
    page.kind === "checkout" && request.visitorId ? await currentCheckout(room.em, bundle, request.visitorId) : undefined,
  ];
  return { ...who, orderedAt: order?.placedAt, checkoutBegunAt: open?.begunAt };
};

/** Starts the clock of who comes, where this visit starts it. */
const arrive = async (
  room: Pick<Room, "em" | "bundle" | "request" | "now" | "visitorId" | "identity">,
  page: LaunchPage,
  who: Onlooker,
): Promise<boolean> => {
  const { bundle, request, now } = room;
  const cause = visitStarts(bundle.plan, page.key);
  if (!cause || request.passive || request.form || page.kind === "offer" || page.kind === "thanks") return false;
  const { clock } = bundle.plan;
  if (clock.kind !== "personal" || !mayStart(clock, bundle.plan.zone, who.starts ?? [], now)) return false;
  return startByVisit(room.em, bundle, { ...room.identity, visitorId: room.visitorId }, cause, now);
};

/** The clock of who has come to a page that stops it. */
const stopHere = async (room: Room, key: string): Promise<boolean> => {
  const stop = stopsAtPage(room.bundle.launch.settings, key);
  if (!stop || room.request.passive || room.request.form || room.who.stop) return false;
  await room.em.transactional(async (tx) => {
    const person = (await personIdOf(tx, room.identity)) ?? (await personOf(tx, room.visitorId, room.now));
    await stopClock(tx, (id) => loadBundle(tx, { id }), room.bundle.launch.id, person, `page:${key}`, stop.handTo, room.now);
  });
  return true;
};

/** A page with its holes filled, as a person sees it. The public pages and their previews are made here. */
export const renderPage = (
  bundle: LaunchBundle,
  compiled: CompiledPage,
  seen: LaunchView,
  address: AddressView,
  filled: Fillings,
  now: Date,
): string =>
  fill(compiled, {
    ...countdownBlocks(bundle.plan, seen.countdown, address.countdown, now),
    price: filled.price?.text,
    notice: filled.notice?.text,
    form: filled.form?.text,
  });

/** Where an address leads that answers with no page of its own. */
export const leadsTo = (bundle: LaunchBundle, answer: Exclude<AddressView["answer"], { page: LaunchPage }>): string =>
  answer.redirect === "home" ? `/l/${bundle.launch.slug}` : answer.redirect === "launch" ? `/l/${answer.launch}` : answer.address;

/**
 * Answers a public address for a visitor at this instant. A partner's code (`?p=`), a person's link (`?k=`) and a
 * restoring link (`?r=`) are taken in first, and leave the address.
 */
export const answerPage = async (app: App, request: PublicRequest): Promise<PublicAnswer> => {
  const bundle = await app.launches.bySlug(request.slug);
  const asked = bundle?.plan.pages.find(({ slug }) => slug === request.path);
  if (!bundle || !asked) return messagePage(app, 404, "There is nothing at this address.", "Look at the link again: perhaps a letter is missing.");
  const now = app.clock.now();
  const visitorId = request.visitorId ?? randomUUID();
  const here = `/l/${request.slug}${request.path ? `/${request.path}` : ""}`;
  // A unit of work is made only where an answer needs the database: most pages are sent without.
  let unit: EntityManager | undefined;
  const start = {
    app,
    bundle,
    request,
    visitorId,
    now,
    identity: { visitorId: request.visitorId } as Identity,
    get em() {
      return (unit ??= app.fork());
    },
  };

  const { query } = request;
  if (query.has("p") || query.has("k") || (asked.kind === "checkout" && query.has("r"))) {
    const code = query.get("p");
    if (code) await recordTouch(start.em, bundle.launch.id, code, visitorId, now);
    if (asked.kind === "checkout" && query.has("r")) {
      const id = await readLink(app.config.INKBELL_SECRET, "restore_checkout", query.get("r"), now);
      if (id) await restoreCheckout(start.em, bundle, id, visitorId, now);
    }
    const link = query.get("k");
    const known = link && (await readLink(app.config.INKBELL_SECRET, "person", link, now));
    const rest = new URLSearchParams(query);
    for (const taken of ["p", "k", "r"]) rest.delete(taken);
    return redirect(app, `${here}${rest.size > 0 ? `?${rest}` : ""}`, visitorId, known ? link : undefined);
  }

  if (isPersonal(bundle.plan)) start.identity = await identify(app, request, now);
  let who = await lookUp(start, asked);
  if (await arrive(start, asked, who)) {
    who = await lookUp({ ...start, em: start.em, identity: { ...start.identity, visitorId } }, asked);
  }
  // Counters are counted only where a price or a seat hangs on them.
  const counters = bundle.plan.settings.rising || bundle.plan.settings.seats !== null ? await app.counters.of(bundle) : undefined;
  const seen = view(bundle.plan, who, now, counters);
  const address = addressOf(seen, request.path);
  if ("redirect" in address.answer) return redirect(app, leadsTo(bundle, address.answer));
  const { page } = address.answer;
  const compiled = bundle.compiled[page.key];
  const words = bundle.pages.find(({ key }) => key === page.key)?.published;
  if (!page.published || !compiled || !words) {
    return messagePage(app, 404, "Not open to the public yet.", "The vendor has not published this page. Nothing can be ordered here.");
  }
  const room: Room = Object.defineProperty({ ...start, em: undefined as never, who, seen, address, page, words }, "em", { get: () => start.em });
  if (await stopHere(room, page.key)) {
    const stopped = view(bundle.plan, { ...who, stop: { at: now } }, now, counters);
    Object.assign(room, { seen: stopped, address: addressOf(stopped, request.path) });
  }
  // Behind an address that a gate answers with another page, that page's own rules hold.
  const filled = await fillers[page.kind](room);
  if ("go" in filled) return redirect(app, filled.go, visitorId);
  const kind = eventKinds[page.kind];
  if (kind && !request.form && !request.passive) {
    app.events.add({ launchId: bundle.launch.id, visitorId, kind, at: now, page: page.key, country: guessCountry(request.acceptLanguage) });
  }
  const message = filled.notice ?? (request.form?.message ? notice(request.form.message) : undefined);
  const private_ = asked.kind === "offer" || asked.kind === "thanks" || asked.kind === "checkout";
  return {
    status: request.form?.status ?? 200,
    body: renderPage(bundle, compiled, room.seen, room.address, { ...filled, notice: message }, now),
    headers: { ...baseHeaders(app), ...(private_ ? { "x-robots-tag": "noindex" } : {}) },
    cookies: request.visitorId ? [] : [cookie(app, visitorCookie, visitorId)],
  };
};
