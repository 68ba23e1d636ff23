import { type Faults, publicWords } from "../../core/words";
import { lockCouponOf } from "../../store/products/coupons";
import { cardOfBrowser } from "../../store/checkout/cardOnFile";
import { randomUUID } from "node:crypto";
import {
  asksWaiver,
  itemOf,
  recurringWords,
  storedCard,
  totalOf,
  waitsForFulfilment,
  withoutCard,
  type Agreed,
  type CheckoutPay,
} from "../../core/offers";
import { normaliseEmail } from "../../core/people";
import { pageLeaves } from "../../core/pages";
import { type Charge, Checkout } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { ChargeFacts } from "../../store/payments/chargeFacts";
import { checkoutToPay } from "../../store/checkout/checkoutToPay";
import { type App, Refusal, limit, limitSender, required, wrongField, wrongFields } from "../platform";
import { actingViewer, type LaunchContext } from "../launch";
import { contactOf } from "../identity";
import { beginCharge, chargeNow, noCard, returnUrlOf } from "../payments";
import { holdPrice, mustBeOpen, mustHaveRoom, type CheckoutVisit } from "./checkout";
import { checkoutLines, type CheckoutQuote, kindsAtOnce, mustBeSold, mustHaveSeat, reverseChargeOf, soldBy, withSeats } from "../offers";

/** The card that this browser, or the buyer who is signed in, paid with before, at the same account. */
export const cardOnFile = (
  em: EntityManager,
  { visitorId, buyerId }: Pick<CheckoutVisit, "visitorId" | "buyerId">,
  currency: string,
  test = false,
): Promise<{ card: string; last4: string } | undefined> => cardOfBrowser(em, visitorId, buyerId ?? null, currency, test);

/** The address of the terms that the checkout's order form names; empty where it names none. */
export const termsOf = ({ pages }: Pick<LaunchContext, "pages">): string => {
  const page = pages.find(({ kind, published }) => kind === "checkout" && published);
  const block = page && pageLeaves(page.published!).find((leaf) => leaf.type === "checkout");
  return block?.type === "checkout" ? (block.terms ?? "") : "";
};

/** What a buyer must agree to before these lines are charged. */
export const mustAgree = (
  context: LaunchContext,
  { lines }: Pick<CheckoutQuote, "lines">,
  { country, vatNumber }: { country: string; vatNumber?: string | null },
): { waiver: boolean; terms: string } => ({
  waiver: asksWaiver(kindsAtOnce(lines), country, Boolean(vatNumber)),
  terms: termsOf(context),
});

/** What the buyer agreed to, in the words they read; refused at the box that is missing. */
const agreedTo = (context: LaunchContext, quoted: CheckoutQuote, request: CheckoutPay, checkout: Checkout, now: Date): Agreed[] => {
  const asked = mustAgree(context, quoted, { ...checkout, country: request.country });
  const at = now.toISOString();
  const wrong: Faults = {};
  if (asked.waiver && !request.waiver) wrong["waiver"] = { code: "waiver_missing" };
  if (asked.terms && !request.terms) wrong["terms"] = { code: "terms_missing" };
  if (Object.keys(wrong).length > 0) throw wrongFields("nothing_charged", wrong);
  return [
    ...(asked.terms ? [{ to: "terms" as const, words: publicWords().checkout.termsAgreed(asked.terms), at }] : []),
    ...(asked.waiver ? [{ to: "start_at_once" as const, words: publicWords().checkout.waiver, at }] : []),
    ...quoted.lines.flatMap(({ product, recurring }) =>
      recurring
        ? [{ to: "later_payments" as const, words: `${product.name}: ${recurringWords(recurring.due, recurring.amount.gross, quoted.currency)}`, at }]
        : [],
    ),
  ];
};

/** Holds the price as it is now for a checkout that was pressed, in a transaction of its own. */
const holdShown = async (app: App, context: LaunchContext, id: string, now: Date): Promise<void> => {
  const em = app.fork();
  await holdPrice(em, context, await em.findOneOrFail(Checkout, { id }), now);
};

/** Pays a checkout. Pressed twice, the second press finds the charge of the first. Answers the charge as it stands afterwards. */
export const payCheckout = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  request: CheckoutPay,
  { visitorId, contactId, buyerId, from, known, test = false }: CheckoutVisit,
): Promise<Charge> => {
  const now = app.clock.now();
  await limitSender(em, now, "pay", { visitorId, from, known }, 60, 300);
  // A checkout at which card after card is tried is no buyer's.
  await limit(em, now, `pay:checkout:${request.checkout}`, 20, 3600);
  const written = withSeats(em, async (tx): Promise<{ id: string; facts?: ChargeFacts }> => {
    const asked = { id: request.checkout, launchId: context.launch.id, visitorId, test };
    const { checkout: open, tried, contact: known, touches } = required(await checkoutToPay(tx, asked, normaliseEmail(request.email)), "checkout");
    const live = tried.find(({ state }) => state !== "declined");
    if (live) return { id: live.id };
    const contact = known?.here ? known : await contactOf(tx, visitorId, request, now, test);
    const who = await actingViewer(tx, context, contact.personId, { visitorId, contactId });
    if (!test) {
      await mustBeSold(tx, await soldBy(tx, context, open), contact.personId, open.quantity);
      mustBeOpen(context, { ...who, checkoutBegunAt: open.begunAt }, now);
      // Seats themselves are counted last, before the commit.
      if (!open.productId && context.plan.settings.soldOut?.reopens === "list") await mustHaveRoom(tx, context, contact.personId);
    }
    const { email, firstName, country } = request;
    const checkout = { ...open, email, firstName, country };
    const reverse = reverseChargeOf(app, checkout);
    // Whoever pays with the same code at this moment waits here, so that it is not used once too often.
    if (checkout.coupon) await lockCouponOf(tx, checkout.coupon);
    const quoted = await checkoutLines(tx, context, { ...checkout, country: request.country, reverse, personId: contact.personId }, now);
    const { lines, coupon, currency } = quoted;
    const items = lines.map(({ product, role, amount, discount, quantity, recurring }) =>
      itemOf(product.id, role, amount, { discount, quantity, later: recurring?.due }),
    );
    const { gross } = totalOf(items);
    if (request.shown !== undefined && request.shown !== gross) {
      throw new Refusal({ code: "price_changed" });
    }
    const agreed = agreedTo(context, quoted, request, checkout, now);
    const id = randomUUID();
    const free = gross === 0 && items.every(({ later }) => !later);
    const charge = await beginCharge(
      tx,
      {
        id,
        idempotencyKey: `checkout:${checkout.id}:${tried.length + 1}`,
        checkoutId: checkout.id,
        amountMinor: gross,
        currency,
        items,
        captureLater: gross > 0 && lines.some(({ product }) => waitsForFulfilment(product)),
        coupon: coupon?.code ?? null,
        card: await cardFor(tx, request, { free, visitorId, buyerId, currency, test }),
        returnUrl: returnUrlOf(app, context.launch.slug, id, now),
      },
      now,
      { email, firstName, country, contactId: contact.id, agreed },
    );
    if (!test) await mustHaveSeat(tx, context, items);
    // Where the buyer may have become another person on the way, it is all read again.
    return { id, ...(known?.here ? { facts: { charge, checkout: { ...checkout, agreed }, contact: known, touches } } : {}) };
  });
  const { id: chargeId, facts } = await written.catch(async (refusal: unknown) => {
    // What the buyer looks at next is what they will pay.
    if (refusal instanceof Refusal && refusal.code === "price_changed") await holdShown(app, context, request.checkout, now);
    throw refusal;
  });
  return chargeNow(app, chargeId, facts);
};

const cardFor = async (
  tx: EntityManager,
  { cardToken }: CheckoutPay,
  { free, currency, test, ...who }: { free: boolean; visitorId: string; buyerId?: string; currency: string; test: boolean },
): Promise<string> => {
  if (free) return noCard;
  const wrong = wrongField("nothing_charged", "cardToken", { code: "card_missing" });
  if (cardToken === withoutCard) throw wrong;
  if (cardToken !== storedCard) return cardToken;
  const known = await cardOnFile(tx, who, currency, test);
  if (!known) throw wrong;
  return known.card;
};
