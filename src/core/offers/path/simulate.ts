import type { EconomicsInput } from "./economics";
import { inOrder, isEnd } from "./path";

/** Small, quick random numbers in [0, 1) from a seed (mulberry32, public domain). */
export const seeded = (seed: number): (() => number) => {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
};

/** What simulated buyers did, for comparison with the exact answer. */
export interface Simulation {
  buyers: number;
  pays: number;
  keeps: number;
  /** Half the width of a 95 % interval around `pays`: 1.96 standard errors. */
  within: number;
  ends: Record<string, number>;
}

/** Sends so many buyers along a path, each answering by chance. The same seed gives the same answer. */
export const simulate = (input: EconomicsInput, buyers: number, seed: number): Simulation => {
  const order = inOrder(input.path);
  if (!order) throw new RangeError("simulate: the path goes in a circle");
  const endIds = [...new Set([input.path.first, ...order.flatMap(({ yesTo, noTo }) => [yesTo, noTo])].filter(isEnd))];
  // Ends are negative, so that one comparison tells that a buyer has arrived.
  const place = new Map<string, number>([...order.map(({ id }, i) => [id, i] as const), ...endIds.map((id, i) => [id, -1 - i] as const)]);
  const numbers = (of: (id: string) => number) => Float64Array.from(order, ({ id }) => of(id));
  const taken = (id: string) => input.steps[id] ?? { economics: { pays: 0, keeps: 0 }, take: 0 };
  const [take, pays, keeps] = [
    numbers((id) => taken(id).take),
    numbers((id) => taken(id).economics.pays),
    numbers((id) => taken(id).economics.keeps),
  ];
  const yes = Int32Array.from(order, ({ yesTo }) => place.get(yesTo)!);
  const no = Int32Array.from(order, ({ noTo }) => place.get(noTo)!);
  const first = place.get(input.path.first)!;
  const ended = new Float64Array(endIds.length);
  const random = seeded(seed);
  let [paid, squares, kept] = [0, 0, 0];
  for (let buyer = 0; buyer < buyers; buyer += 1) {
    let value = input.front.pays;
    kept += input.front.keeps;
    for (const bump of input.bumps)
      if (random() < bump.take) {
        value += bump.economics.pays;
        kept += bump.economics.keeps;
      }
    if (value > 0) kept -= input.checkoutFee;
    let at = first;
    while (at >= 0) {
      if (random() < take[at]!) {
        value += pays[at]!;
        kept += keeps[at]!;
        at = yes[at]!;
      } else at = no[at]!;
    }
    ended[-1 - at]! += 1;
    paid += value;
    squares += value * value;
  }
  const mean = paid / buyers;
  return {
    buyers,
    pays: mean,
    keeps: kept / buyers,
    within: 1.96 * Math.sqrt(Math.max(0, squares / buyers - mean * mean) / buyers),
    ends: Object.fromEntries(endIds.map((id, i) => [id, ended[i]! / buyers])),
  };
};
