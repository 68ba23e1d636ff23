import { seedTaxRates, setTaxRate } from "../../store/products/taxRates";
import { basisPoints, shippedRates, type TaxRequest } from "../../core/offers";
import { type DeskUser, TaxRate } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, wrongField } from "../platform";

/** Puts the rates that ship into a table that has none. A vendor's own are never touched. */
export const ensureTaxTable = (em: EntityManager): Promise<void> => seedTaxRates(em, shippedRates);

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
  const rows = await em.find(TaxRate, {}, { orderBy: [{ country: 1 }, { region: 1 }, { taxClass: -1 }, { fromDay: -1 }] });
  return rows.map(({ country, region, taxClass, rateBp, fromDay }) => ({ country, region, taxClass, rateBp, from: fromDay }));
};

/** Changes the table. Orders keep the tax they were charged. */
export const changeTaxTable = async (em: EntityManager, user: DeskUser, request: TaxRequest): Promise<TaxRow[]> => {
  mustBeAllowed(user, "tax.edit");
  const { country, region, taxClass, from } = request;
  if (Number.isNaN(Date.parse(`${from}T00:00:00Z`))) throw wrongField("nothing_changed", "from", { code: "no_such_day" });
  if (request.do === "drop") await em.nativeDelete(TaxRate, { country, region, taxClass, fromDay: from });
  else if (request.rate === "") throw wrongField("nothing_changed", "rate", { code: "percent" });
  else await setTaxRate(em, { country, region, taxClass, rateBp: basisPoints(request.rate), fromDay: from });
  return taxTable(em);
};
