import { multiplyRounded } from "../../money";

/** A tax rate in basis points (2300 = 23 %) that holds in a country, or in a region of it, from a day on. */
export interface TaxRate {
  country: string;
  /** The region's own part of its ISO 3166-2 code; empty for the whole country. */
  region?: string;
  taxClass: string;
  rateBp: number;
  from: Date;
}

export type TaxMode = "inclusive" | "exclusive";

/** A line's amounts in minor units; `gross` is always `net + tax`. */
export interface TaxedAmount {
  net: number;
  tax: number;
  gross: number;
  rateBp: number;
}

/** What a business of another member state pays: the net alone, for it accounts for the tax itself. */
export const reverseCharged = ({ net }: TaxedAmount): TaxedAmount => ({ net, tax: 0, gross: net, rateBp: 0 });

/**
 * The rate that holds for a country and class on a day, in basis points; 0 where the table has none. A region's own rate
 * comes before its country's, also where the country's is newer.
 */
export const rateAt = (table: TaxRate[], country: string, taxClass: string, at: Date, region = ""): number => {
  const newest = (of: string) =>
    table
      .filter((rate) => rate.country === country && (rate.region ?? "") === of && rate.taxClass === taxClass && rate.from <= at)
      .sort((a, b) => b.from.getTime() - a.from.getTime())[0]?.rateBp;
  return (region ? newest(region) : undefined) ?? newest("") ?? 0;
};

/** An amount as its price is shown: with its tax, or without. */
export const amountShown = ({ gross, net }: TaxedAmount, mode: TaxMode): number => (mode === "inclusive" ? gross : net);

/** Tax of one line, rounded half away from zero. Inclusive: `gross·r/(1+r)`; exclusive: `net·r`. */
export const taxed = (priceMinor: number, mode: TaxMode, rateBp: number): TaxedAmount => {
  if (mode === "inclusive") {
    const tax = multiplyRounded(priceMinor, rateBp, 10_000 + rateBp);
    return { net: priceMinor - tax, tax, gross: priceMinor, rateBp };
  }
  const tax = multiplyRounded(priceMinor, rateBp, 10_000);
  return { net: priceMinor, tax, gross: priceMinor + tax, rateBp };
};
