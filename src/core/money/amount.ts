/** The currencies a price may have (ISO 4217). */
export const currencies = ["EUR", "USD", "GBP", "CHF", "JPY", "KWD"];

// Making a formatter costs a hundred times more than using it.
const formatters = new Map<string, Intl.NumberFormat>();
const digits = new Map<string, number>();
const formatterOf = (currency: string): Intl.NumberFormat => {
  let formatter = formatters.get(currency);
  if (!formatter) formatters.set(currency, (formatter = new Intl.NumberFormat("en-IE", { style: "currency", currency })));
  return formatter;
};

/** Minor units of an ISO 4217 currency, as the runtime carries them: JPY 0, EUR 2, KWD 3. */
export const minorDigits = (currency: string): number => {
  let known = digits.get(currency);
  if (known === undefined) digits.set(currency, (known = formatterOf(currency).resolvedOptions().maximumFractionDigits ?? 2));
  return known;
};

/** `€149.00`, from minor units. */
export const formatMoney = (minor: number, currency: string): string => formatterOf(currency).format(minor / 10 ** minorDigits(currency));

/** Minor units from what a person typed (`149`, `149.00`, `149,5`); undefined where it is no amount or too fine for the currency. */
export const parseAmount = (typed: string, currency: string): number | undefined => {
  const match = /^(\d{1,9})(?:[.,](\d{1,3}))?$/.exec(typed.trim());
  if (!match) return undefined;
  const digits = minorDigits(currency);
  const fraction = match[2] ?? "";
  if (fraction.length > digits) return undefined;
  return Number(match[1]) * 10 ** digits + Number(fraction.padEnd(digits, "0") || 0);
};

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
