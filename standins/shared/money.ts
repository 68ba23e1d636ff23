/** Decimal places of an ISO 4217 currency, as the runtime carries them; two where it is not known. */
export const minorDigits = (currency: string): number => {
  try {
    return new Intl.NumberFormat("en", { style: "currency", currency }).resolvedOptions().maximumFractionDigits ?? 2;
  } catch {
    return 2;
  }
};

/** `149.00 EUR`, `1500 JPY`, from minor units. */
export const amountText = (minor: number, currency: string): string =>
  `${(minor / 10 ** minorDigits(currency)).toFixed(minorDigits(currency))} ${currency}`;

/** So much of a currency as is about a quarter of a euro, in its minor units (common practice of processors, no source). */
const quarters: Record<string, number | undefined> = { EUR: 25, USD: 30, GBP: 20, CHF: 30, JPY: 30, KWD: 75 };
/** What a processor takes for each charge beside its share, in minor units. */
export const fixedFee = (currency: string): number => quarters[currency] ?? Math.round(10 ** minorDigits(currency) / 4);
