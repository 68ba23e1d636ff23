/** The currencies a price may have (ISO 4217). */
export const currencies = ["EUR", "USD", "GBP", "CHF", "JPY", "KWD"];

const digits = new Map<string, number>();

/** Minor units of an ISO 4217 currency, as the runtime carries them: JPY 0, EUR 2, KWD 3. */
export const minorDigits = (currency: string): number => {
  let known = digits.get(currency);
  // Making a formatter costs a hundred times more than using it.
  if (known === undefined) {
    known = new Intl.NumberFormat("en", { style: "currency", currency }).resolvedOptions().maximumFractionDigits ?? 2;
    digits.set(currency, known);
  }
  return known;
};

/** So many whole units of a currency in minor units: 10 is 1,000 cents or 10 yen. */
export const wholeUnits = (units: number, currency: string): number => units * 10 ** minorDigits(currency);
