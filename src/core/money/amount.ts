/** `amount × numerator ÷ denominator`, rounded half away from zero. Exact: computed in integers. */
export const multiplyRounded = (amount: number, numerator: number, denominator: number): number => {
  const product = BigInt(amount) * BigInt(numerator);
  const size = product < 0n ? -product : product;
  const by = BigInt(denominator);
  const rounded = Number((2n * size + by) / (2n * by));
  return rounded === 0 ? 0 : product < 0n ? -rounded : rounded;
};

/** Splits an amount by weights so that the parts add up to it exactly (largest remainder; ties go to the earlier part). */
export const split = (amount: number, weights: number[]): number[] => {
  const total = weights.reduce((a, b) => a + b, 0);
  if (total <= 0) throw new RangeError("split: the weights must add up to more than zero");
  const sign = amount < 0 ? -1 : 1;
  const size = Math.abs(amount);
  const shares = weights.map((weight, index) => {
    const product = BigInt(size) * BigInt(weight);
    return { index, part: Number(product / BigInt(total)), rest: product % BigInt(total) };
  });
  let left = size - shares.reduce((sum, { part }) => sum + part, 0);
  for (const share of [...shares].sort((a, b) => (a.rest === b.rest ? a.index - b.index : a.rest > b.rest ? -1 : 1))) {
    if (left === 0) break;
    share.part += 1;
    left -= 1;
  }
  return shares.map(({ part }) => (part === 0 ? 0 : sign * part));
};
