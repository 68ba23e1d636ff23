import type { Assumptions, Decision, Finding, OfferPath, StepFigure } from "../offers";
import type { PageContent } from "./content";

/** A product on the screen of the offers; minor units, net and gross of one payment with an average buyer's tax. */
export interface OfferedProduct {
  id: string;
  name: string;
  priceMinor: number;
  currency: string;
  net: number;
  gross: number;
  /** How it is paid, in words, where that is not once. */
  paid?: string;
  /** Each payment after the first, and how many there are; null until it is ended. */
  later?: { net: number; gross: number; times: number | null };
  mediaId: string | null;
  /** Whether a struck-through price would be true now. */
  strikable: boolean;
}
export interface OfferedPage {
  id: string;
  key: string;
  slug: string;
  version: number;
  draft: PageContent;
  published: boolean;
  /** Whether the draft says something else than what the public sees. */
  changed: boolean;
}
/** Everything the screen of a launch's offers shows. */
export interface OffersView {
  version: number;
  path: OfferPath;
  main: OfferedProduct;
  products: OfferedProduct[];
  checkout?: OfferedPage;
  /** Products that the published checkout adds. */
  bumps: string[];
  pages: OfferedPage[];
  /** Thank-you pages that a rail may end on, the launch's own first. */
  ends: { id: string; name: string; published: boolean }[];
  findings: Finding[];
  figures: {
    sawSales: number;
    paid: number;
    arrived: number;
    steps: Record<string, StepFigure>;
    /** What was earned, gross, by step, and by product at the checkout. */
    gross: Record<string, number>;
    bumps: Record<string, number>;
  };
  /** What is taken off a sale: as measured where there were sales, else as assumed. */
  reckoned: { commission: number; feeBp: number; feeFixed: number; refunds: number; conversion: number };
  assumed: Assumptions;
  /** Orders that tried the newest version out, to its end: how they answered. */
  tried: { orders: number; walked: Record<string, Decision>[] };
  /** The newest first; `walking` counts buyers who began it and have not come to its end. */
  versions: { version: number; what: string; at: string; walking: number; path: OfferPath }[];
}
