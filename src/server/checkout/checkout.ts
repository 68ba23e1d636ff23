import { seatsTaken } from "../../store/launch/soldCounts";
import { LockMode } from "@mikro-orm/core";
import { type App, Refusal, guessCountry, limitSender, required, typedAmount, wrongField } from "../platform";
import { randomUUID } from "node:crypto";
import { shortText } from "../../core/events";
import { availability, checkoutRefusal, windowFor, type Viewer } from "../../core/launch";
import { type Fault } from "../../core/words";
import { usualLocale } from "../../core/money";
import type { PlaceGuess } from "../../core/people";
import { currenciesOf, normaliseCode, priceIn, type BumpTick, type CheckoutChoice, type CheckoutStart, type CouponEntry } from "../../core/offers";
import { recoveryDueAt } from "../../core/leaks";
import { missingToCharge, sells } from "../../core/pages";
import { type Product, VisitorCoupon } from "../../store/tables";
import { Charge, Checkout } from "../../store/tables";
import { shareStarts } from "../../store/launch/clocks";
import type { EntityManager } from "../../store/orm";
import { queueEmail } from "../../store/emails/queueEmail";
import { actingViewer, isListed, type LaunchContext } from "../launch";
import { writeEvents } from "../../store/events/writeEvents";
import { contactOf, personOf, tieBrowser } from "../identity";
import { couponOf } from "../products";
import { checkoutLines, mainPriceAt, mustBeSold, reverseChargeOf, soldBy } from "../offers";

/** Refuses where the doors are not open to this person, or a page that a buyer needs is not published. */
export const mustBeOpen = ({ plan, launch }: LaunchContext, who: Viewer, now: Date): void => {
  if (!sells(plan) || missingToCharge(plan).length > 0) throw new Refusal({ code: "not_published" });
  const refusal = checkoutRefusal(plan, who, now);
  if (!refusal) return;
  if (refusal.code === "doors_not_open") {
    throw new Refusal({ code: "doors_not_open", personal: plan.clock.kind === "personal" });
  }
  const own = plan.clock.kind === "personal" ? windowFor(plan, who, now) : undefined;
  throw new Refusal({ code: refusal.code, own: own?.closes, zone: launch.zone });
};

/** Refuses to begin an order where no seat is left for this person. Seats are counted again as they are paid. */
export const mustHaveRoom = async (tx: EntityManager, context: LaunchContext, personId: string): Promise<void> => {
  if (context.plan.settings.seats === null) return;
  const open = availability(context.plan, await seatsTaken(tx, context.launch.id));
  if (open === "sold_out") throw new Refusal({ code: "sold_out" });
  if (open === "list_only" && !(await isListed(tx, context.launch.id, personId))) throw new Refusal({ code: "list_only" });
};

/**
 * The newest checkout of a product by itself, or of the launch's own where it is null, or of any, that this very browser began or opened by its signed link, paid or not. Not looked up by address:
 * typing somebody's address must never show what they typed.
 */
export const currentCheckout = async (
  em: EntityManager,
  context: LaunchContext,
  visitorId: string | undefined,
  productId?: string | null,
): Promise<Checkout | undefined> => {
  if (!visitorId) return undefined;
  const where = { visitorId, launchId: context.launch.id, ...(productId === undefined ? {} : { productId }) };
  return (await em.findOne(Checkout, where, { orderBy: { begunAt: -1 } })) ?? undefined;
};

export interface CheckoutVisit {
  visitorId: string;
  /** The contact of a signed link that this browser holds. */
  contactId?: string;
  /** The buyer who is signed in to their library. */
  buyerId?: string;
  from: string;
  /** Whether the browser has sent the cookie that it was given. */
  known?: boolean;
  /** Whether it only tries things out: gates and limits do not stand in the way, and nothing of it counts. */
  test?: boolean;
}

/** The checkout of this browser that is not paid yet, made where there is none. Bound to what it sells: another product is another checkout. */
const openCheckout = async (
  tx: EntityManager,
  context: LaunchContext,
  { visitorId, test = false }: Pick<CheckoutVisit, "visitorId" | "test">,
  personId: string,
  now: Date,
  productId: string | null = null,
): Promise<Checkout> => {
  const open = await currentCheckout(tx, context, visitorId, productId);
  if (open && !open.paidAt) return open;
  const made = tx.create(Checkout, {
    id: randomUUID(),
    visitorId,
    launchId: context.launch.id,
    personId,
    begunAt: now,
    lastActivityAt: now,
    recoveredThroughEmail: false,
    test,
    productId,
    bumps: [],
    quantity: 1,
    region: "",
    coupon: test ? null : await keptCode(tx, visitorId, context.launch.id),
  });
  tx.persist(made);
  return made;
};

/** Minutes for which a price that was shown is kept for its buyer, unless the launch says otherwise. */
export const usualHoldMinutes = 15;

/** What holds the price that is shown for a while, where none is held yet. */
const priceHold = async (em: EntityManager, context: LaunchContext, checkout: Checkout, now: Date) => {
  if (checkout.priceHoldUntil && checkout.priceHoldUntil > now) return undefined;
  const minutes = context.plan.settings.holdMinutes ?? usualHoldMinutes;
  return { priceHoldMinor: await mainPriceAt(em, context, now), priceHoldUntil: new Date(now.getTime() + minutes * 60_000) };
};

/** Holds the price that is shown for a while, from a press on: it may rise for others meanwhile. Looking alone holds nothing. */
export const holdPrice = async (em: EntityManager, context: LaunchContext, checkout: Checkout, now: Date): Promise<void> => {
  const hold = await priceHold(em, context, checkout, now);
  if (hold) await em.nativeUpdate(Checkout, { id: checkout.id, paidAt: null }, hold);
};

/** Begins a checkout, or takes the one under way further: who is buying, and from where. Plans the email to a lost buyer. */
export const startCheckout = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  request: CheckoutStart,
  { visitorId, contactId, from, known, acceptLanguage, place = {}, test = false }: CheckoutVisit & { acceptLanguage?: string; place?: PlaceGuess },
  /** A product that is bought by itself. */
  alone?: Product,
): Promise<Checkout> => {
  const now = app.clock.now();
  await limitSender(em, now, "checkout", { visitorId, from, known }, 60, 300);
  return em.transactional(async (tx) => {
    const contact = await contactOf(tx, visitorId, { ...request, ...place }, now, test);
    const checkout = await openCheckout(tx, context, { visitorId, test }, contact.personId, now, alone?.id);
    const begun = checkout.contactId !== null && checkout.contactId !== undefined;
    const who = await actingViewer(tx, context, contact.personId, { visitorId, contactId });
    if (!test) {
      await mustBeSold(tx, await soldBy(tx, context, checkout), contact.personId, checkout.quantity);
      if (!alone) await mustHaveRoom(tx, context, contact.personId);
      mustBeOpen(context, { ...who, checkoutBegunAt: begun ? checkout.begunAt : undefined }, now);
    }
    // Whoever came by a link and gives another address goes on under the clock they were shown.
    if (contactId) await shareStarts(tx, context.launch.id, contactId, contact.personId);
    const { email, firstName, country, vatNumber = null } = request;
    // A region belongs to its country.
    if (request.region !== undefined) checkout.region = request.region;
    else if (checkout.country && checkout.country !== country) checkout.region = "";
    Object.assign(checkout, { email, firstName, country, vatNumber, contactId: contact.id, personId: contact.personId, lastActivityAt: now });
    if (!begun) checkout.begunAt = now;
    checkout.browserCountry = guessCountry(acceptLanguage) ?? null;
    Object.assign(checkout, await priceHold(tx, context, checkout, now));
    await tx.flush();
    if (test) return checkout;
    const data = { checkout: checkout.id, product: checkout.productId ?? context.product.id };
    await writeEvents(tx, [
      {
        launchId: context.launch.id,
        visitorId,
        personId: contact.personId,
        kind: "began_checkout",
        at: now,
        page: "checkout",
        country: request.country,
        data,
      },
    ]);
    const dueAt = recoveryDueAt(now, context.launch.recoveryDelayMinutes, windowFor(context.plan, who, now));
    if (dueAt) {
      await queueEmail(tx, {
        key: `recovery:${context.launch.id}:${contact.id}`,
        kind: "recovery",
        launchId: context.launch.id,
        contactId: contact.id,
        checkoutId: checkout.id,
        dueAt,
        data: {},
      });
    }
    return checkout;
  });
};

/** Products that may be bought by themselves: offers of the path, and those that stand in published pages. */
export const soldAlone = (context: LaunchContext, productId: string): Product | undefined => {
  const step = context.steps.find(({ product, page }) => product.id === productId && page.published);
  return step?.product ?? context.additions.find(({ id }) => id === productId);
};

/** What a checkout's address names as sold by itself: an offer's page, or a product. Undefined where it names none that is offered. */
export const namedAlone = (context: LaunchContext, of: string | null | undefined): Product | undefined => {
  if (!of) return undefined;
  const step = context.steps.find(({ page }) => page.slug === of && page.published);
  return step?.product ?? soldAlone(context, of);
};

/**
 * Adds a product to this browser's order before it is paid, as a bump that its buyer pressed for. Answers false where the
 * launch's main product was bought already: then it is bought by itself.
 */
export const addToOrder = async (app: App, em: EntityManager, context: LaunchContext, productId: string, visit: CheckoutVisit): Promise<boolean> => {
  const product = soldAlone(context, productId);
  if (!product) throw new Refusal({ code: "not_offered" });
  const open = await currentCheckout(em, context, visit.visitorId, null);
  if (open?.paidAt) return false;
  const now = app.clock.now();
  await em.transactional(async (tx) => {
    const checkout = await openCheckout(tx, context, visit, open?.personId ?? (await personOf(tx, visit.visitorId, now)), now);
    if (!checkout.bumps.includes(product.id)) checkout.bumps = [...checkout.bumps, product.id];
  });
  return true;
};

/** Opens a checkout from the link in an email: this browser goes on with it, and a purchase will count as recovered. Who uses the browser stays who they were. */
export const restoreCheckout = async (em: EntityManager, context: LaunchContext, checkoutId: string, visitorId: string, now: Date): Promise<void> => {
  await em.transactional(async (tx) => {
    const checkout = await tx.findOne(Checkout, { id: checkoutId, launchId: context.launch.id });
    if (!checkout) return;
    await tieBrowser(tx, visitorId, checkout.personId, false, now);
    checkout.visitorId = visitorId;
    if (!checkout.paidAt) Object.assign(checkout, { recoveredThroughEmail: true, lastActivityAt: now });
  });
};

/** Changes this browser's open checkout, begun by this very press where there is none; one whose payment is under way is left as it is. */
const changeOpen = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  id: string,
  visit: Pick<CheckoutVisit, "visitorId" | "test">,
  change: (tx: EntityManager, checkout: Checkout, now: Date) => unknown,
): Promise<void> => {
  const now = app.clock.now();
  const { visitorId } = visit;
  await em.transactional(async (tx) => {
    const checkout = id
      ? required(await tx.findOne(Checkout, { id, launchId: context.launch.id, visitorId }, { lockMode: LockMode.PESSIMISTIC_WRITE }), "checkout")
      : await openCheckout(tx, context, visit, await personOf(tx, visitorId, now), now);
    if (
      checkout.paidAt ||
      (await tx.findOne(Charge, { checkoutId: checkout.id, stepId: null, recurringPaymentId: null, state: { $ne: "declined" } }))
    )
      return;
    await change(tx, checkout, now);
    Object.assign(checkout, await priceHold(tx, context, checkout, now));
  });
};

/** Ticks a bump of this browser's checkout, or takes it out. Ticking twice is the same as once; a payment under way is left as it is. */
export const tickBump = (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  { checkout: id, product, tick }: BumpTick,
  visit: Pick<CheckoutVisit, "visitorId" | "test">,
): Promise<void> =>
  changeOpen(app, em, context, id, visit, (_tx, checkout) => {
    const offered = context.bumps.some((bump) => bump.product.id === product) || (!tick && checkout.bumps.includes(product));
    if (!offered) throw new Refusal({ code: "bump_gone" });
    const others = checkout.bumps.filter((other) => other !== product);
    checkout.bumps = tick ? [...others, product] : others;
  });

/** Sets how many, for how much, and in which currency; refused at its field where it cannot be. */
export const chooseAtCheckout = (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  { checkout: id, quantity, named, currency, region }: CheckoutChoice,
  visit: Pick<CheckoutVisit, "visitorId" | "test">,
): Promise<void> =>
  changeOpen(app, em, context, id, visit, async (tx, checkout) => {
    const product = await soldBy(tx, context, checkout);
    const wrong = (field: string, fault: Fault) => wrongField("nothing_changed", field, fault);
    // A region that has no rate of its own is the rest of the country.
    if (region !== undefined) checkout.region = region;
    const of = currency ?? checkout.currency ?? product.currency;
    if (!currenciesOf(product).includes(of)) throw wrong("currency", { code: "not_in_currency" });
    const { terms } = priceIn(product, of)!;
    // A price that was named stands in the currency it was named in.
    const kept = of === (checkout.currency ?? product.currency) ? checkout.namedMinor : null;
    Object.assign(checkout, { currency: of, namedMinor: kept });
    if (quantity !== undefined) checkout.quantity = quantity;
    if (terms.kind !== "open" || named === undefined) return;
    const minor = typedAmount(named, of, usualLocale, (fault) => wrong("named", fault));
    if (minor < terms.floor) throw wrong("named", { code: "least_amount", minor: terms.floor, currency: of });
    checkout.namedMinor = minor;
  });

/** The code that this visitor came by to a launch. */
const keptCode = async (em: EntityManager, visitorId: string, launchId: string): Promise<string | null> =>
  (await em.findOne(VisitorCoupon, { visitorId, launchId }))?.code ?? null;

/** Keeps the code of a link for this visitor's checkout, begun or to come. A code that does not exist is passed over. Answers whether it is one that is given out. */
export const keepCode = async (em: EntityManager, context: LaunchContext, typed: string, visitorId: string, now: Date): Promise<boolean> => {
  const known = await couponOf(em, typed);
  if (!known) return false;
  await em.transactional(async (tx) => {
    await tx.upsert(VisitorCoupon, { visitorId, launchId: context.launch.id, code: known.code, at: now });
    await tx.nativeUpdate(Checkout, { visitorId, launchId: context.launch.id, paidAt: null }, { coupon: known.code });
  });
  return !known.stopped;
};

/** Logs that somebody tried a code. */
export const logTry = (app: App, context: LaunchContext, visitorId: string, code: string, taken: boolean): void => {
  const data = { code: shortText(normaliseCode(code), 80), taken };
  app.events.add({ launchId: context.launch.id, visitorId, kind: "coupon_tried", at: app.clock.now(), page: "checkout", data });
};

/** Puts a code into this browser's checkout, or takes it out where it is empty. One that does not hold is refused at its field. */
export const applyCoupon = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  { checkout: id, code }: CouponEntry,
  { visitorId, from, known, test }: CheckoutVisit,
): Promise<void> => {
  // Codes are not to be found by trying.
  await limitSender(em, app.clock.now(), "coupon", { visitorId, from, known }, 30, 300);
  const tried = (taken: boolean) => {
    if (!test && code) logTry(app, context, visitorId, code, taken);
  };
  await changeOpen(app, em, context, id, { visitorId, test }, async (tx, checkout, now) => {
    if (!code) return void (checkout.coupon = null);
    const place = { country: checkout.country ?? "", region: checkout.region, reverse: reverseChargeOf(app, checkout) };
    const { refusal, coupon } = await checkoutLines(tx, context, { ...checkout, ...place, coupon: code }, now);
    if (refusal) {
      tried(false);
      throw wrongField("nothing_changed", "code", { code: "coupon", why: refusal });
    }
    checkout.coupon = coupon!.code;
  });
  tried(true);
};
