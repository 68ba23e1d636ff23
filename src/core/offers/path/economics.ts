import { absorbingChain } from "./chain";
import { inOrder, isEnd, type OfferPath } from "./path";

/** What one sale of a product comes to. Minor units; the vendor's part is an expectation and so may have fractions. */
export interface SaleEconomics {
  /** What the buyer pays at once, tax included. */
  pays: number;
  /** What is left of it for the vendor, after later payments and refunds. */
  keeps: number;
}

/** What is taken off a sale, and what comes later. */
export interface Terms {
  /** The price without and with tax, of one payment. */
  net: number;
  gross: number;
  /** The processor's fee: a share of the gross in basis points, and a fixed part of each charge. */
  feeBp: number;
  feeFixed: number;
  /** The partner's share of the net, in basis points, over all orders (those without a partner pay none). */
  commissionBp: number;
  /** The share of sales that are refunded, in basis points. Fees are not given back (common practice). */
  refundBp: number;
  /** Expected number of payments: 1 for a price paid once. */
  payments: number;
}

/** What a sale is worth: `payments × ((net − commission) × (1 − refunds) − fees)`. */
export const saleEconomics = ({ net, gross, feeBp, feeFixed, commissionBp, refundBp, payments }: Terms): SaleEconomics => ({
  pays: gross,
  keeps: payments * (net * (1 - commissionBp / 10_000) * (1 - refundBp / 10_000) - (gross * feeBp) / 10_000 - feeFixed),
});

/** How many payments a subscription brings when each is followed by another with this chance, at most so many: a state that leads back to itself. */
export const expectedPayments = (stays: number, most = Number.POSITIVE_INFINITY): number =>
  stays >= 1 ? most : (1 - (Number.isFinite(most) ? stays ** most : 0)) / (1 - stays);

/** An offer on the path or a bump beside the checkout: what it is worth, and how many of those who see it take it (0 to 1). */
export interface Taken {
  economics: SaleEconomics;
  take: number;
}
export interface EconomicsInput {
  path: OfferPath;
  front: SaleEconomics;
  bumps: (Taken & { id: string })[];
  steps: Record<string, Taken | undefined>;
  /** The fixed part of the processor's fee for the one charge of checkout and bumps, which neither bears by itself; none where nothing is charged. */
  checkoutFee: number;
  /** Visitors of the sales page who buy (0 to 1), for figures per visitor. */
  conversion: number;
}

/** One thing that can be changed, and what one more percentage point of acceptance is worth to an order. */
export interface Lever {
  id: string;
  take: number;
  /** The share of buyers who come to it. */
  reach: number;
  onePoint: { pays: number; keeps: number };
}

export interface Economics {
  /** Order values in minor units with their chances, in ascending order; the chances add up to 1. */
  distribution: { pays: number; chance: number }[];
  /** Expected order value, and what is kept of it, per buyer. */
  pays: number;
  keeps: number;
  /** The standard deviation of the order value. */
  deviation: number;
  ends: Record<string, number>;
  /** What is kept per visitor: a click may cost as much before it loses money, an order as much as `keeps`. */
  perVisitor: { pays: number; keeps: number };
  levers: Lever[];
}

/** Order values in ascending order, each once, with their chances. */
interface Values {
  pays: number[];
  chances: number[];
}
const none: Values = { pays: [], chances: [] };

/** Both lists as one, the second so much dearer, each as likely as said. Sorted lists are merged: maps cost ten times as much. */
const mixed = (a: Values, shareA: number, b: Values, shareB: number, dearer: number): Values => {
  const next: Values = { pays: [], chances: [] };
  let [i, j] = [0, 0];
  while (i < a.pays.length || j < b.pays.length) {
    const [left, right] = [a.pays[i] ?? Number.POSITIVE_INFINITY, (b.pays[j] ?? Number.POSITIVE_INFINITY) + dearer];
    const pays = Math.min(left, right);
    let chance = 0;
    if (left === pays) chance += a.chances[i++]! * shareA;
    if (right === pays) chance += b.chances[j++]! * shareB;
    if (chance <= 0) continue;
    next.pays.push(pays);
    next.chances.push(chance);
  }
  return next;
};

/** The chance that a checkout charges anything: surely, or where it is free itself, when a bump is taken. `instead` stands for the bump of its id. */
const checkoutIsCharged = ({ front, bumps }: EconomicsInput, instead?: EconomicsInput["bumps"][number]): number => {
  if (front.pays > 0) return 1;
  const asked = bumps.map((bump) => (bump.id === instead?.id ? instead : bump)).filter(({ economics }) => economics.pays > 0);
  return 1 - asked.reduce((none, { take }) => none * (1 - take), 1);
};

/**
 * What an offer path earns, exactly: buyers are an absorbing chain over its steps, and the distribution of order values
 * is carried along it. Throws a RangeError for a path that goes in a circle.
 */
export const economicsOf = (input: EconomicsInput): Economics => {
  const order = inOrder(input.path);
  if (!order) throw new RangeError("economics: the path goes in a circle");
  const takenAt = (id: string): Taken => input.steps[id] ?? { economics: { pays: 0, keeps: 0 }, take: 0 };

  // The distribution, carried from the checkout over the bumps and along the rails.
  let carried: Values = { pays: [input.front.pays], chances: [1] };
  for (const { economics, take } of input.bumps) carried = mixed(carried, 1 - take, carried, take, economics.pays);
  const arriving = new Map<string, Values>([[input.path.first, carried]]);
  const arrive = (id: string, from: Values, share: number, dearer: number) =>
    arriving.set(id, mixed(arriving.get(id) ?? none, 1, from, share, dearer));
  for (const { id, yesTo, noTo } of order) {
    const { economics, take } = takenAt(id);
    const here = arriving.get(id) ?? none;
    arrive(noTo, here, 1 - take, 0);
    arrive(yesTo, here, take, economics.pays);
  }
  let total = none;
  const ends: Record<string, number> = {};
  for (const [id, values] of arriving) {
    if (!isEnd(id)) continue;
    total = mixed(total, 1, values, 1, 0);
    ends[id] = values.chances.reduce((sum, chance) => sum + chance, 0);
  }
  const distribution = total.pays.map((pays, index) => ({ pays, chance: total.chances[index]! }));
  const mean = distribution.reduce((sum, { pays, chance }) => sum + pays * chance, 0);

  // How many come to each step, and what they bring from there on.
  const index = new Map(order.map(({ id }, i) => [id, i]));
  const endIds = Object.keys(ends);
  const among = order.map(() => order.map(() => 0));
  const into = order.map(() => endIds.map(() => 0));
  for (const [i, { id, yesTo, noTo }] of order.entries())
    for (const [to, chance] of [
      [yesTo, takenAt(id).take],
      [noTo, 1 - takenAt(id).take],
    ] as const) {
      if (isEnd(to)) into[i]![endIds.indexOf(to)]! += chance;
      else among[i]![index.get(to)!]! += chance;
    }
  const { visits } = absorbingChain(among, into);
  const bringsFrom = (id: string, what: keyof SaleEconomics): number =>
    isEnd(id) ? 0 : order.reduce((sum, step, j) => sum + visits[index.get(id)!]![j]! * takenAt(step.id).take * takenAt(step.id).economics[what], 0);
  const start = index.get(input.path.first);
  const bumpsBring = (what: keyof SaleEconomics) => input.bumps.reduce((sum, { economics, take }) => sum + take * economics[what], 0);
  const fee = input.checkoutFee * checkoutIsCharged(input);
  const keeps = input.front.keeps + bumpsBring("keeps") - fee + bringsFrom(input.path.first, "keeps");
  const levers: Lever[] = [
    ...input.bumps.map((bump) => {
      const { id, take, economics } = bump;
      const more =
        input.checkoutFee * checkoutIsCharged(input, { ...bump, take: 1 }) - input.checkoutFee * checkoutIsCharged(input, { ...bump, take: 0 });
      return { id, take, reach: 1, onePoint: { pays: economics.pays / 100, keeps: (economics.keeps - more) / 100 } };
    }),
    ...order.map(({ id, yesTo, noTo }, j) => {
      const { take, economics } = takenAt(id);
      const reach = start === undefined ? 0 : visits[start]![j]!;
      const gain = (what: keyof SaleEconomics) => (reach * (economics[what] + bringsFrom(yesTo, what) - bringsFrom(noTo, what))) / 100;
      return { id, take, reach, onePoint: { pays: gain("pays"), keeps: gain("keeps") } };
    }),
  ];
  return {
    distribution,
    pays: mean,
    keeps,
    deviation: Math.sqrt(distribution.reduce((sum, { pays, chance }) => sum + chance * (pays - mean) ** 2, 0)),
    ends,
    perVisitor: { pays: mean * input.conversion, keeps: keeps * input.conversion },
    levers,
  };
};
