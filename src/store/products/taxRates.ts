import type { shippedRates } from "../../core/offers";
import type { EntityManager } from "../orm";
import { prepared } from "../prepared";
import type { TaxRate } from "./tables";

/** Puts rates into a table that has none. A vendor's own are never touched. */
export const seedTaxRates = async (em: EntityManager, rates: typeof shippedRates): Promise<void> => {
  await em.execute(
    `insert into tax_rate (country, tax_class, rate_bp, from_day, region) select r->>0, r->>1, (r->>2)::int, (r->>3)::date, coalesce(r->>4, '') from jsonb_array_elements(?::jsonb) as r
     where not exists (select 1 from tax_rate) on conflict do nothing`,
    [JSON.stringify(rates)],
  );
};

/** The regions of a country that have a rate of their own, by code. */
export const taxRegions = async (em: EntityManager, country: string): Promise<string[]> => {
  const rows = await em.execute<{ region: string }[]>("select distinct region from tax_rate where country = ? and region <> '' order by region", [
    country,
  ]);
  return rows.map(({ region }) => region);
};

/** Sets the rate of a place and a class from a day on (ISO 8601). */
export const setTaxRate = async (em: EntityManager, { country, region, taxClass, rateBp, fromDay }: TaxRate): Promise<void> => {
  await em.execute(
    `insert into tax_rate (country, region, tax_class, rate_bp, from_day) values (?, ?, ?, ?, ?::date)
     on conflict (country, region, tax_class, from_day) do update set rate_bp = excluded.rate_bp`,
    [country, region, taxClass, rateBp, fromDay],
  );
};

/** Every rate of a country, of all days, classes and regions. */
export const taxRatesOf = (em: EntityManager, country: string): Promise<{ rate_bp: number; from_day: string; tax_class: string; region: string }[]> =>
  prepared(em, "tax_rates", "select rate_bp, from_day::text, tax_class, region from tax_rate where country = ?", [country]);

/** The highest rate of a class anywhere, in basis points; 0 where there is none. */
export const highestTaxRate = async (em: EntityManager, taxClass: string): Promise<number> => {
  const [row] = await em.execute<{ bp: number | null }[]>("select max(rate_bp) as bp from tax_rate where tax_class = ?", [taxClass]);
  return row?.bp ?? 0;
};
