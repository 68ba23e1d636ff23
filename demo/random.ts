/** Seeded random numbers (mulberry32), so that the demo is the same each time. */
export interface Random {
  /** 0 ≤ x < 1. */
  next(): number;
  chance(p: number): boolean;
  pick<T>(from: readonly T[]): T;
  /** Standard normal. */
  normal(): number;
  uuid(): string;
}

export const seeded = (seed: number): Random => {
  let state = seed >>> 0;
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
  const hex = (digits: number) => Array.from({ length: digits }, () => Math.floor(next() * 16).toString(16)).join("");
  return {
    next,
    chance: (p) => next() < p,
    pick: (from) => from[Math.floor(next() * from.length)]!,
    normal: () => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next()),
    uuid: () => `${hex(8)}-${hex(4)}-4${hex(3)}-${"89ab"[Math.floor(next() * 4)]}${hex(3)}-${hex(12)}`,
  };
};
