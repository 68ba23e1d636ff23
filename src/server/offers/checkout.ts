import { randomUUID } from "node:crypto";
import { checkoutRefusal, fullMoment, windowFor, zoneCity, type Onlooker } from "../../core/launch";
import { itemOf, totalOf, type BumpTick, type CheckoutPay, type CheckoutStart, type CouponEntry } from "../../core/offers";
import { recoveryDueAt } from "../../core/leaks";
import { missingToCharge } from "../../core/pages";
import { Charge, Checkout } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { App } from "../app/app";
import { queue } from "../app/outbox";
import { limit } from "../app/rateLimit";
import { found, Refusal } from "../app/refusal";
import { queueEmail } from "../emails/queueEmail";
import type { LaunchBundle } from "../launch/bundle";
import { actingOnlooker, shareStarts } from "../launch/persons";
import { writeEvents } from "../people/eventLog";
import { guessCountry } from "../pages/publicRequest";
import { becomePerson, contactOf } from "../people/identity";
import { chargeNow, returnUrlOf } from "./charging";
import { couponOf } from "./coupons";
import { mustBeSold, mustHaveSeat } from "./limits";
import { checkoutLines, reverseChargeOf } from "./quote";

/** Refuses where the doors are not open to this person, or a page that a buyer needs is not published. */
const mustBeOpen = ({ plan, launch }: LaunchBundle, who: Onlooker, now: Date): void => {
  if (plan.shape === "list" || missingToCharge(plan).length > 0)
    throw new Refusal(409, "not_published", "This launch is not published yet, so nothing can be paid here.");
  const refusal = checkoutRefusal(plan, who, now);
  if (!refusal) return;
  if (refusal.code === "doors_not_open") {
    const how =
      plan.clock.kind === "personal" ? "This offer opens for each person on their own. Ask for it on its first page." : "The doors are not open yet.";
    throw new Refusal(409, refusal.code, `${how} Nothing was charged.`);
  }
  const own = plan.clock.kind === "personal" ? windowFor(plan, who, now) : undefined;
  const when = own
    ? `Your time for this offer ended on ${fullMoment(own.closes, launch.zone)}, ${zoneCity(launch.zone)} time.`
    : "The doors are closed.";
  throw new Refusal(409, refusal.code, `${when} Nothing was charged.`);
};

/**
 * The newest checkout that this very browser began or opened by its signed link, paid or not. Not looked up by address:
 * typing somebody's address must never show what they typed.
 */
export const currentCheckout = async (em: EntityManager, bundle: LaunchBundle, visitorId: string | undefined): Promise<Checkout | undefined> => {
  if (!visitorId) return undefined;
  return (await em.findOne(Checkout, { visitorId, launchId: bundle.launch.id }, { orderBy: { begunAt: -1 } })) ?? undefined;
};

interface Context {
  visitorId: string;
  /** The contact of a signed link that this browser holds. */
  contactId?: string;
  from: string;
}

/** Begins a checkout, or takes the one under way further: who is buying, and from where. Plans the email to a lost buyer. */
export const startCheckout = async (
  app: App,
  em: EntityManager,
  bundle: LaunchBundle,
  request: CheckoutStart,
  { visitorId, contactId, from, acceptLanguage }: Context & { acceptLanguage?: string },
): Promise<Checkout> => {
  const now = app.clock.now();
  await limit(em, now, `checkout:${from}`, 120, 300);
  return em.transactional(async (tx) => {
    const open = await currentCheckout(tx, bundle, visitorId);
    const known = open && !open.paidAt ? open : undefined;
    const contact = await contactOf(tx, visitorId, request, now);
    const who = await actingOnlooker(tx, bundle, contact.personId, { visitorId, contactId });
    await mustBeSold(tx, bundle, contact.personId);
    mustBeOpen(bundle, { ...who, checkoutBegunAt: known?.begunAt }, now);
    const checkout =
      known ??
      tx.create(Checkout, {
        id: randomUUID(),
        visitorId,
        launchId: bundle.launch.id,
        personId: contact.personId,
        begunAt: now,
        lastActivityAt: now,
        recoveredThroughEmail: false,
      });
    // Whoever came by a link and gives another address goes on under the clock they were shown.
    if (contactId) await shareStarts(tx, bundle.launch.id, contactId, contact.personId);
    const { email, firstName, country, vatNumber = null } = request;
    Object.assign(checkout, { email, firstName, country, vatNumber, contactId: contact.id, personId: contact.personId, lastActivityAt: now });
    checkout.coupon ??= known ? null : await keptCode(tx, visitorId, bundle.launch.id);
    checkout.browserCountry = guessCountry(acceptLanguage) ?? null;
    await tx.persist(checkout).flush();
    await writeEvents(tx, [{ launchId: bundle.launch.id, visitorId, kind: "began_checkout", at: now, page: "checkout", country: request.country }]);
    const dueAt = recoveryDueAt(now, bundle.launch.recoveryDelayMinutes, windowFor(bundle.plan, who, now));
    if (dueAt) {
      await queueEmail(tx, {
        key: `recovery:${bundle.launch.id}:${contact.id}`,
        kind: "recovery",
        launchId: bundle.launch.id,
        contactId: contact.id,
        checkoutId: checkout.id,
        dueAt,
      });
    }
    return checkout;
  });
};

/** Opens a checkout from the link in an email: the visitor is its owner again, and a purchase will count as recovered. */
export const restoreCheckout = async (em: EntityManager, bundle: LaunchBundle, checkoutId: string, visitorId: string, now: Date): Promise<void> => {
  await em.transactional(async (tx) => {
    const checkout = await tx.findOne(Checkout, { id: checkoutId, launchId: bundle.launch.id });
    if (!checkout) return;
    await becomePerson(tx, visitorId, checkout.personId, now);
    checkout.visitorId = visitorId;
    if (!checkout.paidAt) Object.assign(checkout, { recoveredThroughEmail: true, lastActivityAt: now });
  });
};

/** Ticks a bump of this browser's checkout, or takes it out. Ticking twice is the same as once; a payment under way is left as it is. */
export const tickBump = async (
  em: EntityManager,
  bundle: LaunchBundle,
  { checkout: id, product, tick }: BumpTick,
  visitorId: string,
): Promise<void> => {
  const offered = bundle.bumps.find((bump) => bump.product.id === product);
  await em.transactional(async (tx) => {
    await tx.execute("select 1 from checkout where id = ? for update", [id]);
    const checkout = found(await tx.findOne(Checkout, { id, launchId: bundle.launch.id, visitorId }), "checkout");
    if (!offered) throw new Refusal(409, "bump_gone", "This addition is not offered any more. Nothing was added.");
    if (checkout.paidAt || (await tx.findOne(Charge, { checkoutId: id, stepId: null, state: { $ne: "declined" } }))) return;
    const others = checkout.bumps.filter((other) => other !== product);
    checkout.bumps = tick ? [...others, product] : others;
  });
};

/** The code that this visitor came by to a launch. */
const keptCode = async (em: EntityManager, visitorId: string, launchId: string): Promise<string | null> => {
  const [row] = await em.execute<{ code: string }[]>("select code from visitor_coupon where visitor_id = ? and launch_id = ?", [visitorId, launchId]);
  return row?.code ?? null;
};

/** Keeps the code of a link for this visitor's checkout, begun or to come. A code that does not exist is passed over. */
export const keepCode = async (em: EntityManager, bundle: LaunchBundle, typed: string, visitorId: string, now: Date): Promise<void> => {
  const known = await couponOf(em, typed);
  if (!known) return;
  await em.transactional(async (tx) => {
    await tx.execute(
      "insert into visitor_coupon (visitor_id, launch_id, code, at) values (?, ?, ?, ?) on conflict (visitor_id, launch_id) do update set code = excluded.code, at = excluded.at",
      [visitorId, bundle.launch.id, known.code, now],
    );
    await tx.execute("update checkout set coupon = ? where visitor_id = ? and launch_id = ? and paid_at is null", [
      known.code,
      visitorId,
      bundle.launch.id,
    ]);
  });
};

/** Puts a code into this browser's checkout, or takes it out where it is empty. One that does not hold is refused at its field. */
export const applyCoupon = async (
  app: App,
  em: EntityManager,
  bundle: LaunchBundle,
  { checkout: id, code }: CouponEntry,
  { visitorId, from }: Context,
): Promise<void> => {
  const now = app.clock.now();
  // Codes are not to be found by trying.
  await limit(em, now, `coupon:${from}`, 30, 300);
  await em.transactional(async (tx) => {
    await tx.execute("select 1 from checkout where id = ? for update", [id]);
    const checkout = found(await tx.findOne(Checkout, { id, launchId: bundle.launch.id, visitorId }), "checkout");
    if (checkout.paidAt || (await tx.findOne(Charge, { checkoutId: id, stepId: null, state: { $ne: "declined" } }))) return;
    if (!code) return void (checkout.coupon = null);
    const place = { country: checkout.country ?? "", reverse: reverseChargeOf(app, checkout) };
    const { refusal, coupon } = await checkoutLines(tx, bundle, { ...checkout, ...place, coupon: code }, now);
    if (refusal) throw new Refusal(422, "fields", "The code was not taken.", { code: refusal });
    checkout.coupon = coupon!.code;
  });
};

/** Pays a checkout. Pressed twice, the second press finds the charge of the first. Answers the charge as it stands afterwards. */
export const payCheckout = async (
  app: App,
  em: EntityManager,
  bundle: LaunchBundle,
  request: CheckoutPay,
  { visitorId, contactId, from }: Context,
): Promise<Charge> => {
  const now = app.clock.now();
  await limit(em, now, `pay:${from}`, 120, 300);
  const charge = await em.transactional(async (tx) => {
    await tx.execute("select 1 from checkout where id = ? for update", [request.checkout]);
    const checkout = found(await tx.findOne(Checkout, { id: request.checkout, launchId: bundle.launch.id, visitorId }), "checkout");
    const live = await tx.findOne(Charge, { checkoutId: checkout.id, stepId: null, state: { $ne: "declined" } });
    if (live) return live;
    const contact = await contactOf(tx, visitorId, request, now);
    const who = await actingOnlooker(tx, bundle, contact.personId, { visitorId, contactId });
    await mustBeSold(tx, bundle, contact.personId);
    mustBeOpen(bundle, { ...who, checkoutBegunAt: checkout.begunAt }, now);
    Object.assign(checkout, {
      email: request.email,
      firstName: request.firstName,
      country: request.country,
      contactId: contact.id,
      lastActivityAt: now,
    });
    const reverse = reverseChargeOf(app, checkout);
    // Whoever pays with the same code at this moment waits here, so that it is not used once too often.
    if (checkout.coupon)
      await tx.execute("select 1 from coupon where id = (select coupon_id from coupon_code where code = ?) for update", [checkout.coupon]);
    const asked = { ...checkout, country: request.country, reverse, personId: contact.personId };
    const { lines, coupon } = await checkoutLines(tx, bundle, asked, now);
    const items = lines.map(({ product, role, amount, discount }) => itemOf(product.id, role, amount, discount));
    const { gross } = totalOf(items);
    if (request.shown !== undefined && request.shown !== gross) {
      throw new Refusal(409, "price_changed", "The price has changed since this page was shown. Nothing was charged: look at the new total first.");
    }
    const attempt = (await tx.count(Charge, { checkoutId: checkout.id, stepId: null })) + 1;
    const id = randomUUID();
    const made = tx.create(Charge, {
      id,
      idempotencyKey: `checkout:${checkout.id}:${attempt}`,
      checkoutId: checkout.id,
      stepId: null,
      state: "pending",
      amountMinor: gross,
      currency: bundle.product.currency,
      items,
      coupon: coupon?.code ?? null,
      card: request.cardToken,
      returnUrl: await returnUrlOf(app, bundle.launch.slug, id, now),
      createdAt: now,
    });
    await tx.persist(made).flush();
    // Should this process die now, the worker asks the processor what became of the charge.
    await queue(tx, "settle_charge", { id }, new Date(now.getTime() + 20_000), `settle:${id}`);
    await mustHaveSeat(tx, bundle, items);
    return made;
  });
  return chargeNow(app, charge.id);
};
