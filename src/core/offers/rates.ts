/** How many took an offer, of those who answered it. */
export interface Measured {
  yes: number;
  of: number;
}

/**
 * The estimated take rate: what was assumed counts like so many buyers (a Beta prior of that weight), and what was
 * measured takes over as it grows. The mean of Beta(w·a + yes, w·(1 − a) + no).
 */
export const estimatedRate = (assumed: number, { yes, of }: Measured, weight = 20): number => (weight * assumed + yes) / (weight + of);

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
