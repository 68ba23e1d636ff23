import { basisPoints, shippedRates, type TaxRequest } from "../../core/offers";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, Refusal } from "../platform";

/** Puts the rates that ship into a table that has none. A vendor's own are never touched. */
export const ensureTaxTable = async (em: EntityManager): Promise<void> => {
  await em.execute(
    `insert into tax_rate (country, tax_class, rate_bp, from_day, region) select r->>0, r->>1, (r->>2)::int, (r->>3)::date, coalesce(r->>4, '') from jsonb_array_elements(?::jsonb) as r
     where not exists (select 1 from tax_rate) on conflict do nothing`,
    [JSON.stringify(shippedRates)],
  );
};

export interface TaxRow {
  country: string;
  region: string;
  taxClass: string;
  rateBp: number;
  /** Calendar day, ISO 8601. */
  from: string;
}

/** The table of taxes, by country and class, the newest rate first. */
export const taxTable = async (em: EntityManager): Promise<TaxRow[]> => {
  const rows = await em.execute<{ country: string; region: string; tax_class: string; rate_bp: number; from_day: string }[]>(
    "select country, region, tax_class, rate_bp, from_day::text from tax_rate order by country, region, tax_class desc, from_day desc",
  );
  return rows.map((row) => ({ country: row.country, region: row.region, taxClass: row.tax_class, rateBp: row.rate_bp, from: row.from_day }));
};

/** The regions of a country that have a rate of their own, by code. */
export const regionsOf = async (em: EntityManager, country: string): Promise<string[]> => {
  const rows = await em.execute<{ region: string }[]>("select distinct region from tax_rate where country = ? and region <> '' order by region", [
    country,
  ]);
  return rows.map(({ region }) => region);
};

/** Changes the table. Orders keep the tax they were charged. */
export const changeTaxTable = async (em: EntityManager, user: DeskUser, request: TaxRequest): Promise<TaxRow[]> => {
  mustBeAllowed(user, "tax.edit");
  const { country, region, taxClass, from } = request;
  if (Number.isNaN(Date.parse(`${from}T00:00:00Z`))) throw new Refusal(422, "fields", "Nothing was changed.", { from: "There is no such day." });
  if (request.do === "drop")
    await em.execute("delete from tax_rate where country = ? and region = ? and tax_class = ? and from_day = ?::date", [
      country,
      region,
      taxClass,
      from,
    ]);
  else if (request.rate === "") throw new Refusal(422, "fields", "Nothing was changed.", { rate: "Percent, such as 23 or 5.5." });
  else
    await em.execute(
      "insert into tax_rate (country, region, tax_class, rate_bp, from_day) values (?, ?, ?, ?, ?::date) on conflict (country, region, tax_class, from_day) do update set rate_bp = excluded.rate_bp",
      [country, region, taxClass, basisPoints(request.rate), from],
    );
  return taxTable(em);
};
