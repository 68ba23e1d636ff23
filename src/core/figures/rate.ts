/** How many did something, of those who could have. */
export interface Measured {
  yes: number;
  of: number;
}

/** The 95 % interval of Wilson's score for a proportion (Newcombe, Statistics in Medicine 17, 1998, method 3); all of 0 to 1 where nothing was measured. */
export const wilson = ({ yes, of }: Measured): { low: number; high: number } => {
  if (of === 0) return { low: 0, high: 1 };
  const z = 1.959963984540054;
  const p = yes / of;
  const middle = p + (z * z) / (2 * of);
  const half = z * Math.sqrt((p * (1 - p)) / of + (z * z) / (4 * of * of));
  const size = 1 + (z * z) / of;
  return { low: yes === 0 ? 0 : (middle - half) / size, high: yes === of ? 1 : (middle + half) / size };
};

/** Under so many, a rate alone says more than is known. */
const few = 100;

/** A rate with its counts, `31 of 412, 7.5 %`; of few, with its interval: `31 of 41, 75.6 % (60 to 86 %)`. */
export const rateWords = (yes: number, of: number): string => {
  const counts = `${yes.toLocaleString("en")} of ${of.toLocaleString("en")}`;
  if (of === 0) return counts;
  const { low, high } = wilson({ yes, of });
  return `${counts}, ${((100 * yes) / of).toFixed(1)} %${of < few ? ` (${(100 * low).toFixed(0)} to ${(100 * high).toFixed(0)} %)` : ""}`;
};
