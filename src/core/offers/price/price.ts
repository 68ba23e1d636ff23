import { publicWords } from "../../words";
import { z } from "zod";
import { type Locale, formatMoney, multiplyRounded, usualLocale } from "../../money";

/** How often something is paid again. */
export const every = z.object({
  unit: z.enum(["week", "month", "year"]),
  n: z.number().int().min(1).max(36),
});
export type Every = z.infer<typeof every>;

const amount = z.number().int().min(0).max(100_000_000);
/** The amount beside the price in other currencies, by their codes; in proportion to the price where it is not given. */
const elsewhere = z.record(z.string().length(3), amount).optional();
/** How a product is paid, beside its price in minor units. */
export const priceTerms = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("once") }),
  /** The buyer names the price, and the product's own is what is proposed. */
  z.object({ kind: z.literal("open"), floor: amount, elsewhere }),
  /** The price in equal parts. */
  z.object({
    kind: z.literal("instalments"),
    parts: z.number().int().min(2).max(36),
    every,
  }),
  /** The price again and again: after a trial, with something to pay at the beginning, for so many times or until it is ended. */
  z.object({
    kind: z.literal("subscription"),
    every,
    trialDays: z.number().int().min(0).max(365),
    setup: amount,
    times: z.number().int().min(2).max(120).nullable(),
  }),
  /** By quantity: from so many pieces on, each piece costs as much. The product's own price holds below the first. */
  z.object({
    kind: z.literal("tiers"),
    tiers: z
      .array(z.object({ from: z.number().int().min(2).max(10_000), minor: amount }))
      .min(1)
      .max(12)
      .refine(
        (tiers) => tiers.every(({ from }, index) => index === 0 || from > tiers[index - 1]!.from),
        "Each step begins at more pieces than the one before.",
      ),
  }),
  /** The price, which may be nothing, and what sending it costs. */
  z.object({ kind: z.literal("shipped"), shipping: amount, elsewhere }),
]);
export type PriceTerms = z.infer<typeof priceTerms>;
export const once: PriceTerms = { kind: "once" };

/** What a buyer chooses about a price. */
export interface Choice {
  quantity?: number;
  /** The price that they name, where they may. */
  named?: number;
}

/** What is due for a product: now, and later. Minor units, before coupon and tax. */
export interface Due {
  /** The product itself. */
  price: number;
  /** Sending it; follows its own class of tax. */
  shipping: number;
  /** What is charged again by itself: how much, how often, how many times more (null: until it is ended), and when first. */
  later?: { minor: number; every: Every; times: number | null; firstAfterDays?: number };
}

/** Whether a product may cost nothing itself: where its buyer names the price, or pays for the sending. */
export const mayBeFree = (kind: PriceTerms["kind"]): boolean => kind === "open" || kind === "shipped";

/** Terms of a kind as they begin, beside a price in minor units. */
export const freshTerms = (kind: PriceTerms["kind"], minor: number): PriceTerms => {
  const month: Every = { unit: "month", n: 1 };
  switch (kind) {
    case "instalments":
      return { kind, parts: 3, every: month };
    case "subscription":
      return { kind, every: month, trialDays: 0, setup: 0, times: null };
    case "tiers":
      return { kind, tiers: [{ from: 5, minor: multiplyRounded(minor, 4, 5) }] };
    case "open":
      return { kind, floor: 0 };
    case "shipped":
      return { kind, shipping: 0 };
    case "once":
      return { kind };
  }
};

/** The least that a buyer may name, where they name the price. */
export const leastFor = (terms: PriceTerms): number => (terms.kind === "open" ? terms.floor : 0);

/**
 * What is due for a product at its price. Instalments are equal, what is left over is on the first. Tiers are by volume:
 * all pieces at the price of the step that is reached. Throws a RangeError for a named price below the least.
 */
export const dueOf = (terms: PriceTerms, minor: number, { quantity = 1, named }: Choice = {}): Due => {
  switch (terms.kind) {
    case "once":
      return { price: minor * quantity, shipping: 0 };
    case "open": {
      const price = named ?? Math.max(minor, terms.floor);
      if (price < terms.floor) throw new RangeError(`due: ${price} is below the least of ${terms.floor}`);
      return { price: price * quantity, shipping: 0 };
    }
    case "instalments": {
      const whole = minor * quantity;
      const part = Math.floor(whole / terms.parts);
      const price = whole - part * (terms.parts - 1);
      // Nothing is left for later where a coupon covers the price, or it has fewer cents than parts.
      return part === 0 ? { price, shipping: 0 } : { price, shipping: 0, later: { minor: part, every: terms.every, times: terms.parts - 1 } };
    }
    case "subscription": {
      const trial = terms.trialDays > 0;
      return {
        price: (terms.setup + (trial ? 0 : minor)) * quantity,
        shipping: 0,
        later: {
          minor: minor * quantity,
          every: terms.every,
          times: terms.times === null ? null : terms.times - (trial ? 0 : 1),
          ...(trial ? { firstAfterDays: terms.trialDays } : {}),
        },
      };
    }
    case "tiers":
      return { price: (terms.tiers.findLast(({ from }) => from <= quantity)?.minor ?? minor) * quantity, shipping: 0 };
    case "shipped":
      return { price: minor * quantity, shipping: terms.shipping };
  }
};

/** All that is charged over time, as far as it ends: for instalments the price, for a subscription `payments` times its own. */
export const wholeOf = ({ price, shipping, later }: Due, payments = 1): number =>
  price + shipping + (later ? later.minor * Math.min(later.times ?? Number.POSITIVE_INFINITY, Math.max(0, payments - 1)) : 0);

/** A price in words, exactly as it will be charged: `€12.00 a month, the first 14 days free`. */
export const priceWords = (terms: PriceTerms, minor: number, currency: string, locale: Locale = usualLocale): string => {
  const money = (amount: number) => formatMoney(amount, currency, locale);
  const w = publicWords(locale).price;
  switch (terms.kind) {
    case "once":
      return money(minor);
    case "open":
      return w.open(terms.floor > 0 ? money(terms.floor) : undefined);
    case "instalments": {
      const { price, later } = dueOf(terms, minor);
      const { unit, n } = terms.every;
      if (!later) return money(price);
      return price === later.minor
        ? w.equalParts(terms.parts, money(price), unit, n)
        : w.unequalParts(money(price), later.times ?? 1, money(later.minor), unit, n);
    }
    case "subscription":
      return [
        w.subscription(money(minor), terms.every.unit, terms.every.n),
        ...(terms.trialDays > 0 ? [w.trial(terms.trialDays)] : []),
        ...(terms.setup > 0 ? [w.setup(money(terms.setup))] : []),
        ...(terms.times === null ? [] : [w.times(terms.times)]),
      ].join(", ");
    case "tiers":
      return [`${money(minor)}${w.each}`, ...terms.tiers.map((tier) => w.tier(money(tier.minor), tier.from))].join(", ");
    case "shipped":
      return w.shipped(minor === 0 ? undefined : money(minor), money(terms.shipping));
  }
};
