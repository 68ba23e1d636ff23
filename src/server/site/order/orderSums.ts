import { faultSentence, publicWords } from "../../../core/words";
import { taxRegions } from "../../../store/products/taxRates";
import type { Viewer } from "../../../core/launch";
import { recurringWords, regionName, vatNumber, waitsForFulfilment, withParts } from "../../../core/offers";
import { pageLeaves } from "../../../core/pages";
import { isCountry } from "../../../core/people";
import type { Bought, PayFacts, Values } from "../../../public/facts";
import type { Checkout } from "../../../store/tables";
import type { EntityManager } from "../../../store/orm";
import { type App, guessCountry, type PublicRequest } from "../../platform";
import type { LaunchContext } from "../../launch";
import { cardOnFile, mustAgree } from "../../checkout";
import { checkoutLines, type QuotedCheckout, reverseChargeOf } from "../../offers";
import { buyerOf } from "../../delivery";

/** What the pages of an order are answered from: who asks for which page of which launch, and when. */
export interface OrderRoom {
  app: App;
  em: EntityManager;
  context: LaunchContext;
  request: PublicRequest;
  visitorId: string;
  who: Viewer;
  now: Date;
  /** Whether this visitor only tries things out. */
  test: boolean;
}
/** The order form of the checkout as it is published, or as it is tried out. */
export const orderBlock = ({ pages }: LaunchContext) => {
  const page = pages.find(({ kind, published }) => kind === "checkout" && published);
  const block = page && pageLeaves(page.published!).find((leaf) => leaf.type === "checkout");
  return block?.type === "checkout" ? block : undefined;
};

/** The checkout as it stands, or as it would stand if this press began it. */
export type QuotedForm = QuotedCheckout & { kept: Values; open?: Checkout };

/** What a checkout buys, summed for where its buyer is, with what else the order form needs of it. */
const quoteOf = async (em: EntityManager, context: LaunchContext, quoted: Omit<QuotedForm, "kept">, now: Date) => {
  const { lines, coupon, refusal, currency, currencies, priceHoldUntil, named } = await checkoutLines(em, context, quoted, now);
  const rises = context.plan.settings.rising !== null || context.plan.prices.length > 0;
  const free = lines.every(({ amount, recurring }) => amount.gross === 0 && !recurring);
  const { product: main } = lines[0]!;
  const bought: Bought = {
    lines: lines.map(({ product, parts, role, amount, before, quantity }) => ({
      name: role === "shipping" ? publicWords().checkout.shipping(product.name) : quantity > 1 ? `${quantity} × ${product.name}` : product.name,
      contents: withParts(parts),
      amount,
      ...(before ? { before } : {}),
    })),
    currency,
    taxMode: context.product.taxMode,
    country: quoted.country,
    reverse: quoted.reverse ?? false,
    coupon: {
      action: `/l/${context.launch.slug}/do/coupon`,
      ...(coupon ? { code: coupon.code } : {}),
      ...(quoted.coupon && refusal ? { typed: quoted.coupon, refusal: faultSentence({ code: "coupon", why: refusal }) } : {}),
    },
    recurring: lines.flatMap(({ product, recurring }) =>
      recurring ? [`${lines.length > 1 ? `${product.name}: ` : ""}${recurringWords(recurring.due, recurring.amount.gross, currency)}`] : [],
    ),
    captureLater: !free && lines.some(({ product }) => waitsForFulfilment(product)),
    ...(priceHoldUntil && rises ? { priceHoldUntil } : {}),
    picture: context.pictures.get(main.id),
    refundDays: main.refundDays,
  };
  return { bought, lines, currencies, named, free };
};

/** What the checkout buys, as it stands beside each of its steps. */
export const boughtOf = async (em: EntityManager, context: LaunchContext, quoted: Omit<QuotedForm, "kept">, now: Date): Promise<Bought> =>
  (await quoteOf(em, context, quoted, now)).bought;

export const payFacts = async ({ app, em, context, request, visitorId, now, test }: OrderRoom, quoted: QuotedForm): Promise<PayFacts> => {
  const base = `/l/${context.launch.slug}`;
  const { bought, lines, currencies, named, free } = await quoteOf(em, context, quoted, now);
  const { currency } = bought;
  const block = orderBlock(context);
  const agreed = mustAgree(context, { lines }, { country: quoted.country, vatNumber: quoted.kept["vatNumber"] });
  const regions = quoted.reverse ? [] : await taxRegions(em, quoted.country);
  const choice = {
    ...(block?.quantity ? { quantity: quoted.quantity ?? 1 } : {}),
    ...(named ? { named } : {}),
    ...(currencies.length > 1 ? { currencies } : {}),
    ...(regions.length > 0
      ? { regions: regions.map((code) => ({ code, name: regionName(quoted.country, code), chosen: code === quoted.region })) }
      : {}),
  };
  const buyer = await buyerOf(em, request.buyerToken, now);
  const stored = await cardOnFile(em, { visitorId, buyerId: buyer?.id }, currency, test);
  return {
    ...bought,
    action: `${base}/do/pay`,
    checkout: quoted.id,
    ...(Object.keys(choice).length > 0 ? { choice: { action: `${base}/do/choose`, ...choice } } : {}),
    cardFieldUrl: fieldOf(app, currency, test),
    ...(stored && !request.query.has("card") ? { stored: { last4: stored.last4 } } : {}),
    free,
    ...agreed,
    kept: quoted.kept,
  };
};

/** Where a buyer says they are, or is taken to be until they say so: by the address, what was typed, asked for, or guessed. */
export const placeAsked = ({ app, request }: OrderRoom, quoted: Pick<QuotedForm, "country" | "kept" | "open">) => {
  const typed = request.form?.values ?? {};
  const asked = request.query.get("country") ?? typed["country"] ?? (quoted.country || (guessCountry(request.acceptLanguage) ?? ""));
  const country = isCountry(asked) ? asked : app.vendor.country;
  const vat = vatNumber(request.query.get("vat") ?? typed["vatNumber"] ?? quoted.kept["vatNumber"] ?? "", country);
  return {
    // What nobody said and no browser tells is asked for, though a sum is shown already.
    said: isCountry(asked) ? asked : "",
    country,
    region: request.query.get("region") ?? typed["region"] ?? quoted.open?.region ?? "",
    reverse: reverseChargeOf(app, { vatNumber: vat ?? null, country }),
  };
};

/** Where the frame of the card field comes from, for the account that takes this payment. */
export const fieldOf = (app: App, currency: string, test: boolean): string =>
  `${app.cards.for({ currency, test }).fieldUrl}?parent=${encodeURIComponent(app.config.origin)}`;
