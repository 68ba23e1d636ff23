/** The middle of some values. */
export const median = (values: readonly number[]): number => percentile(values, 0.5);

/** The value below which a share of them lies. */
export const percentile = (values: readonly number[], p: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * p))]!;
