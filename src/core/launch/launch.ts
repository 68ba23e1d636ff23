import type { Window } from "./window";

export const pageKinds = ["optin", "sales", "checkout", "offer", "thanks", "closed"] as const;
export type PageKind = (typeof pageKinds)[number];

/** What the clock needs to know of a launch. Instants are UTC; the zone is for showing them. */
export interface LaunchPlan {
  slug: string;
  name: string;
  zone: string;
  /** When the run-up begins: from then on the opt-in page answers. */
  runUpFrom: Date;
  window: Window;
  /** Minutes after the closing bell within which a checkout begun before it may finish. */
  graceMinutes: number;
  pages: LaunchPage[];
  /** Price of the main product, in minor units, as the buyer sees it. */
  price: { minor: number; currency: string };
}

export interface LaunchPage {
  kind: PageKind;
  /** Address below the launch; the empty one is the launch's own address. */
  slug: string;
  title: string;
  published: boolean;
}
