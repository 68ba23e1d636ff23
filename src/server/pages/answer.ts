import { createHash, randomUUID } from "node:crypto";
import { countdownKinds, view, type Onlooker, type PageKind } from "../../core/launch";
import { declineSentence, type TaxedAmount } from "../../core/offers";
import { fill } from "../../core/pages";
import { broadsideCss } from "../../public/broadside";
import { countdownBar } from "../../public/countdown";
import {
  checkoutStartForm,
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
import type { LaunchBundle } from "../launch/bundle";
import { currentCheckout, restoreCheckout } from "../offers/checkout";
import { finishPath, nextAddress } from "../offers/offerPath";
import { quote } from "../offers/quote";
import { recordTouch } from "../partners/touch";
import { consentSentence } from "../people/optIn";
import { recoveryDueAt } from "../../core/leaks";
import { queueEmail } from "../emails/queueEmail";

export interface PublicRequest {
  slug: string;
  path: string;
  query: URLSearchParams;
  /** From the first-party cookie; undefined on a first visit. */
  visitorId?: string;
  acceptLanguage?: string;
  /** A form that came back: what was typed, and what is wrong with it. */
  form?: { values: Values; errors: Errors; message?: string; status?: number };
}

export interface PublicAnswer {
  status: number;
  body: string;
  headers: Record<string, string>;
}

export const visitorCookie = "ib_v";
const isVisitorId = (text: string | undefined): text is string =>
  /^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/.test(text ?? "");

/** The visitor's id in a `Cookie` header, if it is one. */
export const visitorOf = (cookies: string | null | undefined): string | undefined => {
  const value = /(?:^|;\s*)ib_v=([^;]+)/.exec(cookies ?? "")?.[1];
  return isVisitorId(value) ? value : undefined;
};

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

const redirect = (app: App, location: string, visitorId?: string): PublicAnswer => ({
  status: 303,
  body: "",
  headers: { ...baseHeaders(app), location, ...(visitorId ? cookieHeader(app, visitorId) : {}) },
});

const cookieHeader = (app: App, visitorId: string): Record<string, string> => ({
  "set-cookie": `${visitorCookie}=${visitorId}; Path=/; HttpOnly; SameSite=Lax; Max-Age=31536000${app.config.origin.startsWith("https:") ? "; Secure" : ""}`,
});

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
  /** The published words of the page that answers. */
  words: { button: string };
}
type Fillings = { price?: Html; notice?: Html; form?: Html };
type Filled = Fillings | { go: string };
type Filler = (room: Room) => Filled | Promise<Filled>;

const listForm: Filler = ({ app, bundle, request, words }) => ({
  notice: request.query.has("listed") ? optedInNotice() : undefined,
  form: request.query.has("listed")
    ? undefined
    : optInForm(
        `/l/${bundle.launch.slug}/do/opt-in`,
        words.button,
        consentSentence(app.config.INKBELL_VENDOR),
        request.form?.values ?? {},
        request.form?.errors ?? {},
      ),
});

const sales: Filler = ({ bundle, words }) => ({
  price: priceBox(bundle.plan.price, bundle.product.taxMode, words.button, `/l/${bundle.launch.slug}/checkout`, bundle.product.refundDays),
});

/** An open checkout that is looked at again is active: its email to the lost buyer waits from now. */
const stayActive = async (em: EntityManager, bundle: LaunchBundle, checkout: Checkout, now: Date): Promise<void> => {
  if (!checkout.contactId || now.getTime() - checkout.lastActivityAt.getTime() < 15_000) return;
  await em.transactional(async (tx) => {
    await tx.execute("update checkout set last_activity_at = ? where id = ? and paid_at is null", [now, checkout.id]);
    const dueAt = recoveryDueAt(now, bundle.launch.recoveryDelayMinutes, bundle.plan.window);
    if (dueAt) {
      const key = `recovery:${bundle.launch.id}:${checkout.contactId}`;
      await queueEmail(tx, { key, kind: "recovery", launchId: bundle.launch.id, contactId: checkout.contactId!, checkoutId: checkout.id, dueAt });
    }
  });
};

const checkout: Filler = async ({ app, em, bundle, request, visitorId, now, words }) => {
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
  await stayActive(em, bundle, open, now);
  const amount = await quote(em, bundle.product, open.country!, now);
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
const orderOf = async ({ app, em, bundle, request, now }: Room): Promise<Order | undefined> => {
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

const fillers: Record<PageKind, Filler> = { optin: listForm, sales, checkout, offer, thanks, closed: listForm };
const eventKinds: Partial<Record<PageKind, "visited" | "saw_sales">> = {
  sales: "saw_sales",
  optin: "visited",
  closed: "visited",
  checkout: "visited",
};

const onlooker = async (room: Room, kind: PageKind): Promise<Onlooker> => {
  if (kind === "offer" || kind === "thanks") return { hasOrder: (await orderOf(room)) !== undefined };
  // Only a checkout looks back: the grace time asks when it was begun.
  if (kind !== "checkout" || !room.request.visitorId) return {};
  return { checkoutBegunAt: (await currentCheckout(room.em, room.bundle, room.visitorId))?.begunAt };
};

/**
 * Answers a public address for a visitor at this instant. A partner's code (`?p=`) and a restoring link (`?r=`) are
 * taken in first, and leave the address.
 */
export const answerPage = async (app: App, request: PublicRequest): Promise<PublicAnswer> => {
  const bundle = await app.launches.bySlug(request.slug);
  const page = bundle?.pages.find(({ slug }) => slug === request.path);
  if (!bundle || !page) return messagePage(app, 404, "There is nothing at this address.", "Look at the link again: perhaps a letter is missing.");
  const now = app.clock.now();
  const visitorId = request.visitorId ?? randomUUID();
  const here = `/l/${request.slug}${request.path ? `/${request.path}` : ""}`;
  // A unit of work is made only where an answer needs the database: most pages are sent without.
  let unit: EntityManager | undefined;
  const room: Room = {
    app,
    bundle,
    request,
    visitorId,
    now,
    words: { button: "" },
    get em() {
      return (unit ??= app.fork());
    },
  };

  const code = request.query.get("p");
  if (code) {
    await recordTouch(room.em, bundle.launch.id, code, visitorId, now);
    const rest = new URLSearchParams(request.query);
    rest.delete("p");
    return redirect(app, `${here}${rest.size > 0 ? `?${rest}` : ""}`, visitorId);
  }
  if (page.kind === "checkout" && request.query.has("r")) {
    const id = await readLink(app.config.INKBELL_SECRET, "restore_checkout", request.query.get("r"), now);
    if (id) await restoreCheckout(room.em, bundle, id, visitorId, now);
    return redirect(app, here, visitorId);
  }

  const seen = view(bundle.plan, await onlooker(room, page.kind), now);
  const { answer } = seen.addresses.find(({ slug }) => slug === request.path)!;
  if ("redirect" in answer) return redirect(app, `/l/${request.slug}`);
  const compiled = bundle.compiled[answer.kind];
  const words = bundle.pages.find(({ kind }) => kind === answer.kind)?.published;
  if (!answer.published || !compiled || !words) {
    return messagePage(app, 404, "Not open to the public yet.", "The vendor has not published this page. Nothing can be ordered here.");
  }
  // Behind an address that a gate answers with another page, that page's own rules hold.
  room.words = words;
  const filled = await fillers[answer.kind](room);
  if ("go" in filled) return redirect(app, filled.go, visitorId);
  const kind = eventKinds[answer.kind];
  if (kind && !request.form) {
    app.events.add({ launchId: bundle.launch.id, visitorId, kind, at: now, page: answer.kind, country: guessCountry(request.acceptLanguage) });
  }
  const body = fill(compiled, {
    countdown: countdownKinds.includes(answer.kind) ? countdownBar(seen.countdown, bundle.launch.zone, now).text : "",
    price: filled.price?.text,
    notice: (filled.notice ?? (request.form?.message ? notice(request.form.message) : undefined))?.text,
    form: filled.form?.text,
  });
  const private_ = page.kind === "offer" || page.kind === "thanks" || page.kind === "checkout";
  const headers = {
    ...baseHeaders(app),
    ...(request.visitorId ? {} : cookieHeader(app, visitorId)),
    ...(private_ ? { "x-robots-tag": "noindex" } : {}),
  };
  return { status: request.form?.status ?? 200, body, headers };
};
