import { z } from "zod";
import { formatMoney, multiplyRounded } from "../../money";

/** How often something is paid again. */
export const every = z.object({
  unit: z.enum(["week", "month", "year"]),
  n: z.number().int("A whole number.").min(1, "One at least.").max(36, "36 at most."),
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
    parts: z.number().int("A whole number.").min(2, "Two parts at least.").max(36, "36 parts at most."),
    every,
  }),
  /** The price again and again: after a trial, with something to pay at the beginning, for so many times or until it is ended. */
  z.object({
    kind: z.literal("subscription"),
    every,
    trialDays: z.number().int("Whole days.").min(0, "Not below zero.").max(365, "365 days at most."),
    setup: amount,
    times: z.number().int("A whole number.").min(2, "Twice at least, or 0 until it is ended.").max(120, "120 times at most.").nullable(),
  }),
  /** By quantity: from so many pieces on, each piece costs as much. The product's own price holds below the first. */
  z.object({
    kind: z.literal("tiers"),
    tiers: z
      .array(z.object({ from: z.number().int("A whole number.").min(2, "From two pieces on.").max(10_000, "10,000 at most."), minor: amount }))
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

/** `month`, `3 months`. */
export const everyWords = ({ unit, n }: Every): string => (n === 1 ? unit : `${n} ${unit}s`);

/** A price in words, exactly as it will be charged: `€12.00 a month, the first 14 days free`. */
export const priceWords = (terms: PriceTerms, minor: number, currency: string): string => {
  const money = (amount: number) => formatMoney(amount, currency);
  switch (terms.kind) {
    case "once":
      return money(minor);
    case "open":
      return terms.floor > 0 ? `what you want to give, from ${money(terms.floor)}` : "what you want to give";
    case "instalments": {
      const { price, later } = dueOf(terms, minor);
      if (!later) return money(price);
      const rest = later.times === 1 ? `then ${money(later.minor)}` : `then ${later.times} times ${money(later.minor)}`;
      return price === later.minor
        ? `${terms.parts} payments of ${money(price)}, one every ${everyWords(terms.every)}`
        : `${money(price)} now, ${rest}, one every ${everyWords(terms.every)}`;
    }
    case "subscription": {
      const often = terms.every.n === 1 ? `a ${terms.every.unit}` : `every ${everyWords(terms.every)}`;
      return [
        `${money(minor)} ${often}`,
        ...(terms.trialDays > 0 ? [terms.trialDays === 1 ? "the first day free" : `the first ${terms.trialDays} days free`] : []),
        ...(terms.setup > 0 ? [`${money(terms.setup)} at the beginning`] : []),
        ...(terms.times === null ? [] : [`${terms.times} times`]),
      ].join(", ");
    }
    case "tiers":
      return [`${money(minor)} each`, ...terms.tiers.map((tier) => `${money(tier.minor)} from ${tier.from}`)].join(", ");
    case "shipped":
      return minor === 0 ? `free, plus ${money(terms.shipping)} for sending it` : `${money(minor)} plus ${money(terms.shipping)} for sending it`;
  }
};
