import { economicsOf, reckonedRate, usualTake, worthOf, type EconomicsInput, type Measured, type OfferPath, type Worth } from "../../core/offers";
import type { OfferedProduct, OffersView } from "../../core/pages";

/** What is tried out on the screen: other take rates and prices than those that hold, by step or bump. */
export interface Trial {
  take: Record<string, number | undefined>;
  priceMinor: Record<string, number | undefined>;
}
export const noTrial: Trial = { take: {}, priceMinor: {} };
export const isTried = ({ take, priceMinor }: Trial): boolean =>
  [...Object.values(take), ...Object.values(priceMinor)].some((one) => one !== undefined);

/** How a step or a bump was answered so far. */
export const measuredAt = ({ figures, bumps }: OffersView, id: string): Measured => {
  if (bumps.includes(id)) return { yes: figures.bumps[id] ?? 0, of: figures.paid };
  const step = figures.steps[id];
  return { yes: step?.yes ?? 0, of: (step?.yes ?? 0) + (step?.no ?? 0) };
};

/** The take rate that was assumed for a step or a bump. */
export const assumedAt = ({ assumed, bumps, path }: OffersView, id: string): number => {
  const kind = bumps.includes(id) ? "bump" : (path.steps.find((step) => step.id === id)?.kind ?? "offer");
  return assumed.take?.[id] ?? usualTake[kind];
};

/** The take rate to reckon with: assumed alone, or with what was measured. */
export const takeAt = (view: OffersView, id: string, measured: boolean): number =>
  measured ? reckonedRate(assumedAt(view, id), measuredAt(view, id)) : assumedAt(view, id);

const worth = ({ reckoned, assumed }: OffersView, product: OfferedProduct, priceMinor = product.priceMinor): Worth => {
  const by = product.priceMinor > 0 ? priceMinor / product.priceMinor : 1;
  const of = (net: number, gross: number, payments: number): Worth =>
    worthOf({
      net: net * by,
      gross: Math.round(gross * by),
      feeBp: reckoned.feeBp,
      // Nothing charged costs nothing.
      feeFixed: gross > 0 ? reckoned.feeFixed : 0,
      commissionBp: reckoned.commission * 10_000,
      refundBp: reckoned.refunds * 10_000,
      payments,
    });
  const first = of(product.net, product.gross, 1);
  if (!product.later) return first;
  const more = of(product.later.net, product.later.gross, paymentsOf({ assumed }, product));
  return { pays: first.pays, keeps: first.keeps + more.keeps };
};

/** Payments to expect after the first: all parts of a price; of a subscription as many as are assumed, four unless it is said (our own guess). */
export const paymentsOf = ({ assumed }: Pick<OffersView, "assumed">, { id, later }: OfferedProduct): number =>
  later ? (later.times ?? assumed.payments?.[id] ?? 4) : 0;

/** The figures that the economics of a path are reckoned from. */
export const reckon = (view: OffersView, path: OfferPath, trial: Trial, measured: boolean): EconomicsInput => {
  const product = (id: string) => view.products.find((one) => one.id === id);
  const taken = (id: string, of: OfferedProduct | undefined) => ({
    take: trial.take[id] ?? takeAt(view, id, measured),
    worth: of ? worth(view, of, trial.priceMinor[id]) : { pays: 0, keeps: 0 },
  });
  return {
    path,
    front: worth(view, view.main, trial.priceMinor[view.main.id]),
    bumps: view.bumps.map((id) => ({ id, ...taken(id, product(id)) })),
    steps: Object.fromEntries(path.steps.map(({ id, productId }) => [id, taken(id, product(productId))])),
    conversion: view.reckoned.conversion,
  };
};

export const economicsFor = (view: OffersView, path: OfferPath, trial: Trial, measured: boolean) => economicsOf(reckon(view, path, trial, measured));
