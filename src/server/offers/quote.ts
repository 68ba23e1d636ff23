import { rateAt, taxed, type TaxedAmount } from "../../core/offers";
import type { Product } from "../../store/entities";
import type { EntityManager } from "../../store/orm";

/** What a product costs a buyer from a country on a day, tax included or added as the product says. */
export const quote = async (em: EntityManager, product: Product, country: string, at: Date): Promise<TaxedAmount> => {
  const rows = await em.execute<{ rate_bp: number; from_day: string }[]>(
    "select rate_bp, from_day::text from tax_rate where country = ? and tax_class = ?",
    [country, product.taxClass],
  );
  const table = rows.map((row) => ({ country, taxClass: product.taxClass, rateBp: row.rate_bp, from: new Date(row.from_day) }));
  return taxed(product.priceMinor, product.taxMode, rateAt(table, country, product.taxClass, at));
};
