import { publicWords } from "../../../core/words";
import { orderNumber } from "../../../core/money";
import { usedCode } from "../../../store/products/usedCode";
import type { EventDataOf } from "../../../core/events";
import type { PageKind } from "../../../core/launch";
import { amountShown, asksWaiver, declineSentence, dueIn, recurringWords, lineRoles, waitsForFulfilment, withParts } from "../../../core/offers";
import type { BumpFacts, KnownBuyer, OrderFacts, Values } from "../../../public/facts";
import { notice } from "../../../public/forms";
import type { Html } from "../../../public/html";
import type { Checkout } from "../../../store/tables";
import { Charge, Contact, Order, OrderLine, type Product } from "../../../store/tables";
import type { EntityManager } from "../../../store/orm";
import { type App, type PublicRequest, readLink } from "../../platform";
import type { LaunchContext } from "../../launch";
import { cardOnFile, currentCheckout, finishPath, isBuyersBrowser, namedAlone, nextAddress, orderHref, placeOnPath } from "../../checkout";
import { authorizedCharges, recurringPaymentLines } from "../../payments";
import { kindsAtOnce, offerLines, openBumps, type Place, ratesFor, reverseChargeOf, wasPrice } from "../../offers";
import { buyerOf } from "../../delivery";
import { fieldOf, orderBlock, type OrderRoom, payFacts, placeAsked, type QuotedForm, boughtOf } from "./orderSums";

/**
 * Where an order stands, or where the browser goes on instead. `kept` is what is known of who fills the form in; `offered` is an
 * offer that is shown, and to whom.
 */
type Found =
  { notice?: Html; order?: OrderFacts; kept?: Values; bumps?: BumpFacts; offered?: EventDataOf<"offered"> & { personId: string } } | { go: string };
type OrderFinder = (room: OrderRoom) => Promise<Found>;

const here = (context: LaunchContext, { path }: PublicRequest) => `/l/${context.launch.slug}${path ? `/${path}` : ""}`;

/** The bumps of a checkout's page with what each would add for this buyer. */
export const bumpFacts = async (
  em: EntityManager,
  context: LaunchContext,
  checkout: Place & { id: string; bumps: string[]; currency?: string | null },
  now: Date,
  products: Product[],
): Promise<BumpFacts> => {
  const of: BumpFacts["of"] = {};
  const currency = checkout.currency ?? context.product.currency;
  const rates = await ratesFor(em, checkout, now);
  for (const product of products) {
    const due = dueIn(product, currency);
    if (!due) continue;
    const amount = rates(due.price, product.taxMode, product.taxClass);
    const was = currency === product.currency ? await wasPrice(em, product, now) : undefined;
    of[product.id] = {
      name: product.name,
      amount,
      ticked: checkout.bumps.includes(product.id),
      picture: context.pictures.get(product.id),
      ...(was ? { was: amountShown(rates(was, product.taxMode, product.taxClass), product.taxMode) } : {}),
    };
  }
  return { action: `/l/${context.launch.slug}/do/bump`, checkout: checkout.id, currency, taxMode: context.product.taxMode, of };
};

const placeOf = (app: App, open: Checkout): Place => ({ country: open.country!, region: open.region, reverse: reverseChargeOf(app, open) });

const keptOf = (open: Checkout): Values => ({
  email: open.email ?? "",
  firstName: open.firstName ?? "",
  country: open.country ?? "",
  vatNumber: open.vatNumber ?? "",
});

const checkout: OrderFinder = async (room) => {
  const { app, em, context, request, visitorId, now, test } = room;
  const base = `/l/${context.launch.slug}`;
  // An offer by itself: its page was come to without an order, or its order is none of this browser's.
  const of = request.query.get("of") ?? request.form?.values["of"];
  const alone = namedAlone(context, of);
  const open = await currentCheckout(em, context, visitorId, alone ? alone.id : null);
  const message = request.form?.message ? notice(request.form.message) : undefined;
  const buyer = test ? undefined : await buyerOf(em, request.buyerToken, now);
  // Whoever is signed in with a card on file has nothing left to be asked for.
  const onFile = buyer && (await cardOnFile(em, { visitorId, buyerId: buyer.id }, open?.currency ?? context.product.currency, test));
  const oneStep = orderBlock(context)?.steps === "one" || Boolean(onFile);
  const named = alone ? { of: of! } : {};
  /** The first step, with what it buys beside it, summed for where the buyer is taken to be. */
  const startOf = async (quoted: QuotedForm, known?: KnownBuyer): Promise<OrderFacts> => {
    const { said: _, ...place } = placeAsked(room, quoted);
    const bought = await boughtOf(em, context, { ...quoted, ...place }, now);
    return { step: "start", action: `${base}/do/start`, ...named, ...(known ? { known } : {}), bought };
  };
  if (open?.paidAt && !request.form && !request.query.has("again")) {
    const paid = await em.findOne(Order, { checkoutId: open.id });
    const href = paid && (await orderHref(app, em, context, paid, 60));
    // Whoever has just paid goes on to what follows; later, nothing invites them to pay once more.
    if (href && !paid.finishedPathAt && now.getTime() - paid.placedAt.getTime() < onwardMs) return { go: href };
    const address = here(context, request);
    if (href) return { order: { step: "bought", href, again: `${address}?${alone ? `of=${encodeURIComponent(of!)}&` : ""}again` } };
  }
  if (!open || open.paidAt || (!open.contactId && !oneStep)) {
    const again = open?.paidAt && !request.form ? notice(publicWords().checkout.chargedAgain, false) : undefined;
    // Who has been at a checkout here before has given all this already.
    const before = open ?? (await currentCheckout(em, context, visitorId));
    const kept = before?.contactId ? keptOf(before) : buyer ? { email: buyer.email, firstName: buyer.firstName, country: buyer.country ?? "" } : {};
    const known = buyer
      ? { as: buyer.email }
      : before?.contactId || test
        ? undefined
        : { signIn: `/library/sign-in?to=${encodeURIComponent(here(context, request))}` };
    const fresh = { id: "", personId: visitorId, bumps: [], ...(alone ? { productId: alone.id } : {}), kept, country: kept.country ?? "" };
    if (!oneStep) return { notice: message ?? again, kept, order: await startOf(fresh, known) };
    return onePage(room, fresh, { notice: message ?? again, ...named, ...(known ? { known } : {}) });
  }
  const kept = keptOf(open);
  const fieldsWrong = Object.keys(request.form?.errors ?? {}).some((name) => startFields.has(name));
  if (!oneStep && (request.query.has("change") || fieldsWrong))
    return { notice: message, kept, order: await startOf({ ...open, ...placeOf(app, open), kept, open }) };
  const [charge] = await em.find(Charge, { checkoutId: open.id, stepId: null, recurringPaymentId: null }, { orderBy: { createdAt: -1 }, limit: 1 });
  if (charge?.state === "pending")
    return { order: { step: "waiting", href: `${here(context, request)}${alone ? `?of=${encodeURIComponent(of!)}` : ""}` } };
  if (charge?.state === "challenge") return { go: charge.challengeUrl! };
  const declined = charge?.state === "declined" ? notice(declineSentence(charge.declineCode ?? undefined)) : undefined;
  if (!open.contactId) return onePage(room, { ...open, kept, open, country: "" }, { notice: message ?? declined, ...named });
  const signedIn = buyer ? { known: { as: buyer.email } } : {};
  if (oneStep) return onePage(room, { ...open, ...placeOf(app, open), kept, open }, { notice: message ?? declined, ...named, ...signedIn });
  const facts = await payFacts(room, { ...open, ...placeOf(app, open), kept, open });
  return {
    notice: message ?? declined,
    order: { step: "pay", editHref: `${here(context, request)}?${alone ? `of=${encodeURIComponent(of!)}&` : ""}change`, ...facts },
    // What is bought by itself has nothing beside it.
    ...(alone ? {} : { bumps: await bumpsOf(room, { ...open, ...placeOf(app, open), currency: facts.currency }) }),
  };
};

/** How long after paying the checkout leads on to what follows the order. */
const onwardMs = 3_600_000;

const startFields = new Set(["email", "firstName", "country", "vatNumber"]);

const bumpsOf = async ({ em, context, now }: OrderRoom, open: Place & { id: string; bumps: string[]; personId: string; currency: string }) =>
  bumpFacts(
    em,
    context,
    open,
    now,
    (await openBumps(em, context, open.personId)).map(({ product }) => product),
  );

/** All of a checkout on one page, summed for the country that is chosen at the moment: what was typed, asked for, or guessed. */
const onePage = async (room: OrderRoom, quoted: QuotedForm, more: { notice?: Html; of?: string; known?: KnownBuyer }): Promise<Found> => {
  const { context } = room;
  const { said, ...place } = placeAsked(room, quoted);
  const kept = { ...quoted.kept, country: quoted.kept["country"] || said };
  const facts = await payFacts(room, { ...quoted, ...place, kept });
  return {
    ...(more.notice ? { notice: more.notice } : {}),
    kept,
    order: {
      step: "one",
      ...(more.of ? { of: more.of } : {}),
      ...(more.known ? { known: more.known } : {}),
      ...facts,
      action: `/l/${context.launch.slug}/do/buy`,
    },
    ...(more.of
      ? {}
      : {
          bumps: await bumpsOf(room, {
            id: quoted.id,
            bumps: [...quoted.bumps],
            personId: quoted.personId,
            currency: facts.currency,
            ...place,
          }),
        }),
  };
};

/** The order behind an offer or thank-you page, by its signed link; undefined without one. */
export const orderOf = async ({
  app,
  em,
  context,
  request,
  now,
}: Pick<OrderRoom, "app" | "em" | "context" | "request" | "now">): Promise<Order | undefined> => {
  const id = readLink(app.config.INKBELL_SECRET, "order", request.query.get("o"), now);
  return id ? ((await em.findOne(Order, { id, launchId: context.launch.id })) ?? undefined) : undefined;
};

/** What is said where an offer went to somebody else at the very moment of the press. */
const goneNotice = ({ query }: PublicRequest): Html | undefined => (query.has("gone") ? notice(publicWords().offer.gone, false) : undefined);

const offer: OrderFinder = async (room) => {
  const { app, em, context, request, now } = room;
  const order = (await orderOf(room))!;
  const o = request.query.get("o")!;
  const { step, address } = await placeOnPath(em, context, order);
  if (!step || address !== request.path) return { go: `/l/${context.launch.slug}/${address}?o=${o}` };
  const [charge] = await em.find(Charge, { checkoutId: order.checkoutId!, stepId: step.id }, { orderBy: { createdAt: -1 }, limit: 1 });
  if (charge?.state === "pending") return { order: { step: "waiting", href: `${here(context, request)}?o=${o}` } };
  if (charge?.state === "challenge") return { go: charge.challengeUrl! };
  const place = { country: order.country, region: order.region, reverse: order.reverseCharge };
  const lines = await offerLines(em, step.product, order.currency, place, now);
  const [line, sending] = lines;
  const was = order.currency === step.product.currency ? await wasPrice(em, step.product, now) : undefined;
  const recurring = line!.recurring && recurringWords(line!.recurring.due, line!.recurring.amount.gross, order.currency);
  const waives = asksWaiver(kindsAtOnce(lines), order.country, Boolean(order.vatNumber));
  const rates = await ratesFor(em, place, now);
  // Elsewhere than in the buyer's own browser the stored card is not offered: receipts are forwarded.
  const buyer = await buyerOf(em, request.buyerToken, now);
  const own = await isBuyersBrowser(em, order, { visitorId: room.test ? room.visitorId : request.visitorId, buyerId: buyer?.id });
  return {
    ...(order.test ? {} : { offered: { order: order.id, step: step.id, product: step.product.id, personId: order.personId } }),
    notice: charge?.state === "declined" ? notice(declineSentence(charge.declineCode ?? undefined)) : goneNotice(request),
    order: {
      step: "offer",
      action: `/l/${context.launch.slug}/do/decide`,
      order: o,
      stepId: step.id,
      amount: line!.amount,
      currency: order.currency,
      productName: step.product.name,
      country: order.country,
      reverse: order.reverseCharge,
      picture: context.pictures.get(step.product.id),
      // The card that was just refused is not tried again by a press: another is asked for.
      last4: own && order.cardRef && charge?.state !== "declined" ? (order.cardLast4 ?? "") : "",
      ...(own || !order.cardRef ? {} : { signIn: `/library/sign-in?to=${encodeURIComponent(`${here(context, request)}?o=${o}`)}` }),
      cardFieldUrl: fieldOf(app, order.currency, order.test),
      ...(sending ? { shipping: sending.amount.gross } : {}),
      ...(recurring ? { recurring } : {}),
      captureLater: waitsForFulfilment(step.product),
      ...(was ? { was: rates(was, step.product.taxMode, step.product.taxClass).gross } : {}),
      ...(waives ? { byPress: publicWords().checkout.waiverByPress } : {}),
      ...(step.sure ? { sure: request.query.has("sure") ? ("now" as const) : ("later" as const) } : {}),
    },
  };
};

const thanks: OrderFinder = async (room) => {
  const { em, context, now } = room;
  const order = (await orderOf(room))!;
  if ((await nextAddress(em, context, order)) === room.request.path) await finishPath(em, order, now);
  const [lines, contact] = await Promise.all([em.find(OrderLine, { orderId: order.id }), em.findOneOrFail(Contact, { id: order.contactId })]);
  const said = goneNotice(room.request);
  const used = await usedCode(em, order);
  lines.sort((a, b) => lineRoles.indexOf(a.role) - lineRoles.indexOf(b.role));
  return {
    ...(said ? { notice: said } : {}),
    order: {
      step: "receipt",
      number: orderNumber(order.number),
      ...(used ? { code: used.code, discount: lines.reduce((sum, line) => sum + line.discountMinor, 0) } : {}),
      currency: order.currency,
      country: order.country,
      email: contact.email,
      ...(order.reverseCharge ? { vatNumber: order.vatNumber! } : {}),
      lines: lines.map((line) => ({ name: line.name, contents: withParts(line.contents), gross: line.grossMinor, tax: line.taxMinor })),
      authorized: (await authorizedCharges(em, order)).reduce((sum, { amountMinor }) => sum + amountMinor, 0),
      recurring: await recurringPaymentLines(em, [order], () => context.launch.zone),
      action: `/l/${context.launch.slug}/do/end`,
      order: room.request.query.get("o") ?? "",
    },
  };
};

/** What the pages of an order show, by their kind; the other kinds have none. */
export const orderFinders: Partial<Record<PageKind, OrderFinder>> = { checkout, offer, thanks };
