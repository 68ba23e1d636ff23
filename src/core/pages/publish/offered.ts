import type { Decision, EstimatedProduct, EstimateFacts, Finding, OfferPath, StepFigure } from "../../offers";
import type { PageContent } from "../content/content";

/** A product on the screen of the offers. */
export interface OfferedProduct extends EstimatedProduct {
  name: string;
  /** How it is paid, in words, where that is not once. */
  paid?: string;
  /** Other currencies that it has a price in. */
  pricedIn: string[];
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
export interface OffersView extends EstimateFacts {
  version: number;
  main: OfferedProduct;
  products: OfferedProduct[];
  checkout?: OfferedPage;
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
  /** Orders that tried the newest version out, to its end: how they answered. */
  tried: { orders: number; walked: Record<string, Decision>[] };
  /** The newest first; `walking` counts buyers who began it and have not come to its end. */
  versions: { version: number; what: string; at: string; walking: number; path: OfferPath }[];
}
