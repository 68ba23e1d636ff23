import { priceAt, type Counters } from "../../core/launch";
import { rateAt, taxed, type TaxedAmount } from "../../core/offers";
import type { Product } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { LaunchBundle } from "../launch/bundle";

/** What a price with its tax is made from. */
type Pricing = Pick<Product, "priceMinor" | "taxMode" | "taxClass">;

/** The true counter of a launch's main product: lines that were paid. Counted only where a price or a seat hangs on it. */
export const countersOf = async (em: EntityManager, { plan, launch, product }: LaunchBundle): Promise<Counters> => {
  if (!plan.settings.rising && plan.settings.seats === null) return { sold: 0 };
  const [row] = await em.execute<{ n: string }[]>(
    "select count(*) as n from order_line n join sale_order s on s.id = n.order_id where s.launch_id = ? and n.product_id = ? and n.role = 'front'",
    [launch.id, product.id],
  );
  return { sold: Number(row!.n) };
};

/** The main product at the price that holds at an instant. */
export const mainProductAt = async (em: EntityManager, bundle: LaunchBundle, at: Date): Promise<Pricing> => ({
  taxMode: bundle.product.taxMode,
  taxClass: bundle.product.taxClass,
  priceMinor: priceAt(bundle.plan, at, await countersOf(em, bundle)).minor,
});

/** What a product costs a buyer from a country on a day, tax included or added as the product says. */
export const quote = async (em: EntityManager, product: Pricing, country: string, at: Date): Promise<TaxedAmount> => {
  const rows = await em.execute<{ rate_bp: number; from_day: string }[]>(
    "select rate_bp, from_day::text from tax_rate where country = ? and tax_class = ?",
    [country, product.taxClass],
  );
  const table = rows.map((row) => ({ country, taxClass: product.taxClass, rateBp: row.rate_bp, from: new Date(row.from_day) }));
  return taxed(product.priceMinor, product.taxMode, rateAt(table, country, product.taxClass, at));
};
