import { multiplyRounded, wholeUnits } from "../../money";
import { economicsOf, saleEconomics, type Economics, type EconomicsInput, type SaleEconomics } from "./economics";
import type { OfferPath } from "./path";
import { dueOf, type PriceTerms } from "../price/price";
import type { Measured } from "../../figures";
import { estimatedRate } from "../price/rates";
import { usualTake, type Assumptions } from "../price/product";
import { taxed, type TaxMode } from "../price/tax";
import type { StepFigure } from "./walked";

/** A product as an estimate prices it: minor units of its own currency. */
export interface EstimatedProduct {
  id: string;
  priceMinor: number;
  currency: string;
  terms: PriceTerms;
  taxMode: TaxMode;
}

/** What is taken off a sale, as shares from 0 to 1; the processor's fee in basis points and minor units of each charge. */
export interface Deductions {
  commission: number;
  refunds: number;
  feeBp: number;
  feeFixed: number;
}

/** What the economics of a path are estimated from. */
export interface EstimateFacts {
  path: OfferPath;
  main: EstimatedProduct;
  products: readonly EstimatedProduct[];
  /** Products that the checkout adds. */
  bumps: readonly string[];
  /** What buyers paid on average as tax, in basis points of the net. */
  taxBp: number;
  deductions: Deductions;
  /** Visitors of the sales page who buy, from 0 to 1. */
  conversion: number;
  assumed: Assumptions;
  figures: { paid: number; steps: Record<string, StepFigure>; bumps: Record<string, number> };
}

/** Other take rates and prices than those that hold, by step or bump, and the main product's price by its id. */
export interface Trial {
  take: Record<string, number | undefined>;
  priceMinor: Record<string, number | undefined>;
}
export const noTrial: Trial = { take: {}, priceMinor: {} };
export const isTried = ({ take, priceMinor }: Trial): boolean =>
  [...Object.values(take), ...Object.values(priceMinor)].some((one) => one !== undefined);

/** How a step or a bump was answered so far. */
export const measuredAt = ({ figures, bumps }: Pick<EstimateFacts, "figures" | "bumps">, id: string): Measured => {
  if (bumps.includes(id)) return { yes: figures.bumps[id] ?? 0, of: figures.paid };
  const step = figures.steps[id];
  return { yes: step?.yes ?? 0, of: (step?.yes ?? 0) + (step?.no ?? 0) };
};

/** The take rate that is assumed for a step or a bump. */
export const assumedAt = ({ assumed, bumps, path }: Pick<EstimateFacts, "assumed" | "bumps" | "path">, id: string): number => {
  const kind = bumps.includes(id) ? "bump" : (path.steps.find((step) => step.id === id)?.kind ?? "offer");
  return assumed.take?.[id] ?? usualTake[kind];
};

/** The take rate to estimate with: assumed alone, or with what was measured. */
export const takeAt = (facts: EstimateFacts, id: string, measured: boolean): number =>
  measured ? estimatedRate(assumedAt(facts, id), measuredAt(facts, id)) : assumedAt(facts, id);

/** Payments to expect after the first: all parts of a price; of a subscription as many as are assumed, four unless it is said (our own guess). */
export const paymentsOf = ({ assumed }: Pick<EstimateFacts, "assumed">, { id, terms }: Pick<EstimatedProduct, "id" | "terms">): number => {
  if (terms.kind === "instalments") return terms.parts - 1;
  if (terms.kind !== "subscription") return 0;
  return terms.times === null ? (assumed.payments?.[id] ?? 4) : terms.times - (terms.trialDays > 0 ? 0 : 1);
};

/**
 * What one sale of a product is worth at a price. Each line is taxed as the checkout taxes it; sending at the same
 * average rate. `alone` says that it is a charge by itself, which bears the fixed part of the fee.
 */
export const saleOf = (facts: EstimateFacts, product: EstimatedProduct, priceMinor: number, alone: boolean): SaleEconomics => {
  const { deductions, taxBp } = facts;
  const due = dueOf(product.terms, priceMinor);
  const of = (amounts: readonly number[], payments: number, isCharge: boolean): SaleEconomics => {
    const lines = amounts.map((minor) => taxed(minor, product.taxMode, taxBp));
    const [net, gross] = [lines.reduce((sum, line) => sum + line.net, 0), lines.reduce((sum, line) => sum + line.gross, 0)];
    return saleEconomics({
      net,
      gross,
      feeBp: deductions.feeBp,
      // A charge of nothing costs nothing.
      feeFixed: isCharge && gross > 0 ? deductions.feeFixed : 0,
      commissionBp: deductions.commission * 10_000,
      refundBp: deductions.refunds * 10_000,
      payments,
    });
  };
  const first = of([due.price, due.shipping], 1, alone);
  if (!due.later) return first;
  const more = of([due.later.minor], paymentsOf(facts, product), true);
  return { pays: first.pays, keeps: first.keeps + more.keeps };
};

/** The figures that the economics of a path are computed from. Checkout and bumps are one charge, each offer is one of its own. */
export const economicsInput = (facts: EstimateFacts, path: OfferPath, trial: Trial, measured: boolean): EconomicsInput => {
  const taken = (id: string, productId: string, alone: boolean) => {
    const product = facts.products.find((one) => one.id === productId);
    return {
      take: trial.take[id] ?? takeAt(facts, id, measured),
      economics: product ? saleOf(facts, product, trial.priceMinor[id] ?? product.priceMinor, alone) : { pays: 0, keeps: 0 },
    };
  };
  return {
    path,
    front: saleOf(facts, facts.main, trial.priceMinor[facts.main.id] ?? facts.main.priceMinor, false),
    bumps: facts.bumps.map((id) => ({ id, ...taken(id, id, false) })),
    steps: Object.fromEntries(path.steps.map(({ id, productId }) => [id, taken(id, productId, true)])),
    checkoutFee: facts.deductions.feeFixed,
    conversion: facts.conversion,
  };
};

export const estimate = (facts: EstimateFacts, path: OfferPath, trial: Trial, measured: boolean): Economics =>
  economicsOf(economicsInput(facts, path, trial, measured));

/** What was sold of a launch, in minor units of its currency. */
export interface SoldSums {
  gross: number;
  net: number;
  commission: number;
}

/** The tax that buyers paid on average, in basis points of the net; before the first sale, `otherwise`. */
export const averageTaxBp = ({ gross, net }: Pick<SoldSums, "gross" | "net">, otherwise: number): number =>
  net > 0 ? multiplyRounded(gross - net, 10_000, net) : otherwise;

/** Partners' share of the net over all orders: as it is assumed, else as it was; nothing before the first sale. */
export const commissionShare = ({ net, commission }: Pick<SoldSums, "net" | "commission">, assumed?: number): number =>
  assumed ?? (net > 0 ? commission / net : 0);

/** Visitors of the sales page who buy before anybody has come (our own guess). */
const usualConversion = 0.02;
/** Visitors of the sales page who buy: as it is assumed, else as it was measured. */
export const conversionOf = ({ paid, sawSales }: { paid: number; sawSales: number }, assumed?: number): number =>
  assumed ?? (sawSales > 0 ? paid / sawSales : usualConversion);

/** A price to begin a downsell at: a fifth off (common practice: a few units cheaper, no source), in whole units where that leaves any. */
export const downsellPrice = (minor: number, currency: string): number => {
  const fifthOff = Math.floor((minor * 4) / 5);
  const unit = wholeUnits(1, currency);
  return Math.max(1, fifthOff >= unit ? fifthOff - (fifthOff % unit) : fifthOff);
};
