import { windowFor, type Onlooker, type PageKind } from "../../core/launch";
import { recoveryDueAt } from "../../core/leaks";
import { declineSentence, lineRoles, type TaxedAmount } from "../../core/offers";
import type { BumpFacts, OrderFacts, Values } from "../../public/facts";
import { notice } from "../../public/forms";
import type { Html } from "../../public/html";
import { Charge, Contact, Order, OrderLine, type Checkout, type Product } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { App } from "../app/app";
import { readLink } from "../app/signedLink";
import { queueEmail } from "../emails/queueEmail";
import type { LaunchBundle } from "../launch/bundle";
import { currentCheckout } from "../offers/checkout";
import { finishPath, nextAddress, standingOf } from "../offers/offerPath";
import { checkoutLines, openBumps, quote, reverseChargeOf, type Place } from "../offers/quote";
import type { PublicRequest } from "./publicRequest";

export interface OrderRoom {
  app: App;
  em: EntityManager;
  bundle: LaunchBundle;
  request: PublicRequest;
  visitorId: string;
  who: Onlooker;
  now: Date;
}
/** Where an order stands, or where the browser goes on instead. `kept` is what is known of who fills the form in. */
type Found = { notice?: Html; order?: OrderFacts; kept?: Values; bumps?: BumpFacts } | { go: string };
type OrderFinder = (room: OrderRoom) => Promise<Found>;

const here = (bundle: LaunchBundle, { path }: PublicRequest) => `/l/${bundle.launch.slug}${path ? `/${path}` : ""}`;

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

/** The bumps of a checkout's page with what each would add for this buyer. */
export const bumpFacts = async (
  em: EntityManager,
  bundle: LaunchBundle,
  checkout: Place & { id: string; bumps: string[] },
  now: Date,
  products: Product[],
): Promise<BumpFacts> => {
  const of: BumpFacts["of"] = {};
  for (const product of products)
    of[product.id] = { name: product.name, amount: await quote(em, product, checkout, now), ticked: checkout.bumps.includes(product.id) };
  const { currency, taxMode } = bundle.product;
  return { action: `/l/${bundle.launch.slug}/do/bump`, checkout: checkout.id, currency, taxMode, of };
};

const placeOf = (app: App, open: Checkout): Place => ({ country: open.country!, reverse: reverseChargeOf(app, open) });

const checkout: OrderFinder = async ({ app, em, bundle, request, visitorId, who, now }) => {
  const base = `/l/${bundle.launch.slug}`;
  const open = await currentCheckout(em, bundle, visitorId);
  const action = `${base}/do/start`;
  const message = request.form?.message ? notice(request.form.message) : undefined;
  if (!open || open.paidAt) {
    const again = open?.paidAt && !request.form ? notice("You have bought this already. A new order would be charged again.", false) : undefined;
    return { notice: message ?? again, order: { step: "start", action } };
  }
  const kept: Values = { email: open.email ?? "", firstName: open.firstName ?? "", country: open.country ?? "", vatNumber: open.vatNumber ?? "" };
  const fieldsWrong = Object.keys(request.form?.errors ?? {}).some((name) => name !== "cardToken" && name !== "code");
  if (request.query.has("change") || fieldsWrong) {
    return { notice: message, kept, order: { step: "start", action } };
  }
  const [charge] = await em.find(Charge, { checkoutId: open.id, stepId: null }, { orderBy: { createdAt: -1 }, limit: 1 });
  if (charge?.state === "pending") return { order: { step: "waiting", href: here(bundle, request) } };
  if (charge?.state === "challenge") return { go: charge.challengeUrl! };
  await stayActive(em, bundle, who, open, now);
  const { lines, coupon, refusal } = await checkoutLines(em, bundle, { ...open, ...placeOf(app, open) }, now);
  const declined = charge?.state === "declined" ? notice(declineSentence(charge.declineCode ?? undefined)) : undefined;
  return {
    notice: message ?? declined,
    order: {
      step: "pay",
      action: `${base}/do/pay`,
      editHref: `${here(bundle, request)}?change`,
      checkout: open.id,
      lines: lines.map(({ product, amount }) => ({ name: product.name, amount })),
      currency: bundle.product.currency,
      taxMode: bundle.product.taxMode,
      reverse: reverseChargeOf(app, open),
      coupon: {
        action: `${base}/do/coupon`,
        ...(coupon ? { code: coupon.code, minor: lines.reduce((sum, { discount }) => sum + discount, 0) } : {}),
        ...(open.coupon && refusal ? { typed: open.coupon, refusal } : {}),
      },
      cardFieldUrl: `${app.cards.fieldUrl}?parent=${encodeURIComponent(app.config.origin)}`,
      kept,
    },
    bumps: await bumpFacts(
      em,
      bundle,
      { ...open, ...placeOf(app, open) },
      now,
      (await openBumps(em, bundle, open.personId)).map(({ product }) => product),
    ),
  };
};

/** The order behind an offer or thank-you page, by its signed link; undefined without one. */
export const orderOf = async ({
  app,
  em,
  bundle,
  request,
  now,
}: Pick<OrderRoom, "app" | "em" | "bundle" | "request" | "now">): Promise<Order | undefined> => {
  const id = await readLink(app.config.INKBELL_SECRET, "order", request.query.get("o"), now);
  return id ? ((await em.findOne(Order, { id, launchId: bundle.launch.id })) ?? undefined) : undefined;
};

/** What is said where an offer went to somebody else at the very moment of the press. */
const goneNotice = ({ query }: PublicRequest): Html | undefined =>
  query.has("gone") ? notice("The last one of it had just been taken. Nothing was charged for it.", false) : undefined;

const offer: OrderFinder = async (room) => {
  const { em, bundle, request, now } = room;
  const order = (await orderOf(room))!;
  const o = request.query.get("o")!;
  const { step, address } = await standingOf(em, bundle, order);
  if (!step || address !== request.path) return { go: `/l/${bundle.launch.slug}/${address}?o=${o}` };
  const [charge] = await em.find(Charge, { checkoutId: order.checkoutId!, stepId: step.id }, { orderBy: { createdAt: -1 }, limit: 1 });
  if (charge?.state === "pending") return { order: { step: "waiting", href: `${here(bundle, request)}?o=${o}` } };
  if (charge?.state === "challenge") return { go: charge.challengeUrl! };
  const amount: TaxedAmount = await quote(em, step.product, { country: order.country, reverse: order.reverseCharge }, now);
  const action = `/l/${bundle.launch.slug}/do/decide`;
  return {
    notice: charge?.state === "declined" ? notice(declineSentence(charge.declineCode ?? undefined)) : goneNotice(request),
    order: {
      step: "offer",
      action,
      order: o,
      stepId: step.id,
      amount,
      currency: order.currency,
      productName: step.product.name,
      last4: order.cardLast4 ?? "",
      ...(step.sure ? { sure: request.query.has("sure") ? ("now" as const) : ("later" as const) } : {}),
    },
  };
};

const thanks: OrderFinder = async (room) => {
  const { em, bundle, now } = room;
  const order = (await orderOf(room))!;
  if ((await nextAddress(em, bundle, order)) === room.request.path) await finishPath(em, order, now);
  const [lines, contact] = await Promise.all([em.find(OrderLine, { orderId: order.id }), em.findOneOrFail(Contact, { id: order.contactId })]);
  const said = goneNotice(room.request);
  lines.sort((a, b) => lineRoles.indexOf(a.role) - lineRoles.indexOf(b.role));
  return {
    ...(said ? { notice: said } : {}),
    order: {
      step: "receipt",
      number: order.number,
      currency: order.currency,
      email: contact.email,
      ...(order.reverseCharge ? { vatNumber: order.vatNumber! } : {}),
      lines: lines.map((line) => ({ name: line.name, gross: line.grossMinor, tax: line.taxMinor })),
    },
  };
};

/** What the pages of an order show, by their kind; the other kinds have none. */
export const orderFinders: Partial<Record<PageKind, OrderFinder>> = { checkout, offer, thanks };
