import type { Measured } from "../../figures";

/**
 * The estimated take rate: what was assumed counts like so many buyers (a Beta prior of that weight), and what was
 * measured takes over as it grows. The mean of Beta(w·a + yes, w·(1 − a) + no).
 */
export const estimatedRate = (assumed: number, { yes, of }: Measured, weight = 20): number => (weight * assumed + yes) / (weight + of);
