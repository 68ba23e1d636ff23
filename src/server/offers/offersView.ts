import { askedPrices } from "../../store/products/askedPrices";
import { highestTaxRate } from "../../store/products/taxRates";
import { priceAt } from "../../core/launch";
import {
  assumptions,
  currenciesOf,
  averageTaxBp,
  commissionShare,
  conversionOf,
  pathFindings,
  priceWords,
  strikable,
  usualFixedFee,
  walkedSteps,
  type Assumptions,
  type PathFacts,
  type PathProduct,
} from "../../core/offers";
import type { OfferedPage, OfferedProduct, OffersView } from "../../core/pages";
import { pageLeaves, samePage } from "../../core/pages";
import { Launch, PathVersion, Product, type DeskUser, type Page } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { pathFigures } from "../../store/offers/pathFigures";
import { stageFunnel } from "../../store/leaks/stageFunnel";
import { triedWalks } from "../../store/checkout/triedWalks";
import { mustBeAllowed } from "../platform";
import type { LaunchContext } from "../launch";
import { countersOf } from "./soldCounters";

const pageOf = ({ id, key, slug, version, draft, published }: Page): OfferedPage => ({
  id,
  key,
  slug,
  version,
  draft,
  published: published !== null,
  changed: published ? !samePage(published, draft) : false,
});

const factsOf = (context: LaunchContext, products: Product[], mainMinor: number): PathFacts => {
  const { product, pages, bumps } = context;
  const of = (one: Product): PathProduct => ({
    id: one.id,
    name: one.name,
    currency: one.currency,
    onSale: one.onSale,
    alone: one.alone,
    contents: one.contents,
    currencies: currenciesOf(one),
    minor: one.currency === product.currency ? one.priceMinor : 0,
  });
  const checkout = pages.find(({ kind }) => kind === "checkout");
  const order = checkout && pageLeaves(checkout.draft).find((leaf) => leaf.type === "checkout");
  return {
    main: { ...of(product), minor: mainMinor },
    currencies: currenciesOf(product).slice(1),
    bumps: bumps.map((bump) => of(bump.product)),
    products: Object.fromEntries(products.map((one) => [one.id, of(one)])),
    pages: Object.fromEntries(pages.map((page) => [page.id, { published: page.published !== null, name: page.slug }])),
    thanks: pages.some(({ kind, published }) => kind === "thanks" && published !== null),
    pay: order?.type === "checkout" ? order.pay : "",
  };
};

/** The offers of a launch as things are now, or as they stood at an instant of the past (`pastAt`). */
export const offersView = async (em: EntityManager, context: LaunchContext, now: Date, pastAt?: Date): Promise<OffersView> => {
  const { launch, product, savedPath, pages, plan } = context;
  const asOf = pastAt ?? now;
  const scope = { launchId: launch.id, now: asOf, past: pastAt !== undefined };
  const [products, versions, { walks, sold }, funnel, counters, tried, highestBp] = await Promise.all([
    em.find(Product, {}, { orderBy: { name: 1 } }),
    em.find(PathVersion, { launchId: launch.id, at: { $lte: asOf } }, { orderBy: { version: -1 } }),
    pathFigures(em, scope, product.currency),
    stageFunnel(em, scope),
    countersOf(em, context),
    triedWalks(em, { launchId: launch.id, now }, savedPath.version),
    highestTaxRate(em, product.taxClass),
  ]);
  const mainMinor = priceAt(plan, asOf, counters).minor;
  const total = (what: "gross" | "net" | "commission") => sold.reduce((sum, line) => sum + line[what], 0);
  const sums = { gross: total("gross"), net: total("net"), commission: total("commission") };
  // Before the first sale the highest rate of the table, so that nothing looks better than it may be.
  const taxBp = averageTaxBp(sums, highestBp);
  const asked = await askedPrices(
    em,
    products.map(({ id }) => id),
  );
  const shown = (one: Product, minor = one.priceMinor): OfferedProduct => ({
    id: one.id,
    name: one.name,
    priceMinor: minor,
    currency: one.currency,
    terms: one.terms,
    taxMode: one.taxMode,
    ...(one.terms.kind === "once" ? {} : { paid: priceWords(one.terms, minor, one.currency) }),
    pricedIn: Object.keys(one.prices),
    mediaId: one.mediaId ?? null,
    strikable: one.terms.kind === "once" && strikable(asked.get(one.id) ?? [], asOf) !== undefined,
  });
  const assumed = launch.assumptions;
  const full = assumptions.parse(assumed);
  const paid = walks.reduce((sum, walk) => sum + walk.orders, 0);
  const paths = new Map(versions.map(({ version, path }) => [version, path]));
  const checkout = pages.find(({ kind }) => kind === "checkout");
  const sawSales = funnel.saw_sales;
  return {
    version: savedPath.version,
    path: savedPath.path,
    main: shown(product, mainMinor),
    tried,
    products: products.filter(({ currency }) => currency === product.currency).map((one) => shown(one)),
    ...(checkout ? { checkout: pageOf(checkout) } : {}),
    bumps: context.bumps.map((bump) => bump.product.id),
    pages: pages.filter(({ kind }) => kind === "offer").map(pageOf),
    ends: pages.filter(({ kind }) => kind === "thanks").map(({ id, slug, published }) => ({ id, name: slug, published: published !== null })),
    findings: pathFindings(savedPath.path, factsOf(context, products, mainMinor)),
    figures: {
      sawSales,
      paid,
      arrived: walks.reduce((sum, walk) => sum + walk.arrived, 0),
      steps: walkedSteps(walks, paths),
      gross: Object.fromEntries(sold.map((line) => [line.stepId ?? line.productId, line.gross])),
      bumps: Object.fromEntries(sold.filter(({ role }) => role === "bump").map((line) => [line.productId, line.orders])),
    },
    taxBp,
    deductions: {
      commission: commissionShare(sums, full.commission),
      feeBp: full.feeBp,
      feeFixed: full.feeFixed ?? usualFixedFee(product.currency),
      refunds: full.refunds,
    },
    conversion: conversionOf({ paid, sawSales }, full.conversion),
    assumed,
    versions: versions.map(({ version, what, at, path }) => ({
      version,
      what,
      path,
      at: at.toISOString(),
      // Buyers who began this version and have not come to its end.
      walking: walks.filter((walk) => walk.version === version).reduce((sum, walk) => sum + walk.orders - walk.arrived, 0),
    })),
  };
};

/** Keeps what a vendor assumes of a launch's path. It changes no page and no charge. */
export const setAssumptions = async (em: EntityManager, user: DeskUser, launchId: string, assumed: Assumptions): Promise<void> => {
  mustBeAllowed(user, "path.edit");
  await em.nativeUpdate(Launch, { id: launchId }, { assumptions: assumed });
};
