/** A price that was asked from an instant on, until the next one. */
export interface AskedPrice {
  from: Date;
  minor: number;
}

const day = 86_400_000;
/** Days before a reduction whose lowest price may be struck through (Directive 98/6/EC, art. 6a (2)). */
export const referenceDays = 30;

/**
 * The price that may be struck through beside the present one: the lowest that was asked in the 30 days before the
 * reduction began (Directive 98/6/EC, art. 6a). Undefined where the price was not reduced, was never asked at more, or
 * has not been asked for that long.
 */
export const strikable = (history: readonly AskedPrice[], at: Date): number | undefined => {
  const asked = history.filter(({ from }) => from <= at).sort((a, b) => a.from.getTime() - b.from.getTime());
  const present = asked.at(-1);
  if (!present) return undefined;
  // The reduction began when this price was first asked, without another between.
  let first = asked.length - 1;
  while (first > 0 && asked[first - 1]!.minor === present.minor) first -= 1;
  const began = asked[first]!.from.getTime();
  const before = asked.slice(0, first);
  // A price holds from its instant until the next: the one in force when the 30 days begin is among them.
  const held = before.filter((_, index) => (before[index + 1]?.from.getTime() ?? began) > began - referenceDays * day);
  if (before.length === 0 || before[0]!.from.getTime() > began - referenceDays * day) return undefined;
  const lowest = Math.min(...held.map(({ minor }) => minor));
  return lowest > present.minor ? lowest : undefined;
};
