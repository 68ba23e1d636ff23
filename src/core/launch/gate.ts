import type { LaunchPlan, PageKind } from "./launch";
import { phaseOf, type WindowPhase } from "./window";

/** Which kind of page answers an address before, during and after the doors-open span. */
export type Gate = Record<WindowPhase, PageKind>;

/**
 * The gates of a launch by the page whose address it is. Offer and thank-you pages stand outside every gate:
 * they ask for an order instead, and an order may be finished after the bell.
 */
export const gates: Record<PageKind, Gate> = {
  optin: { before: "optin", during: "sales", after: "closed" },
  sales: { before: "optin", during: "sales", after: "closed" },
  checkout: { before: "optin", during: "checkout", after: "closed" },
  offer: { before: "offer", during: "offer", after: "offer" },
  thanks: { before: "thanks", during: "thanks", after: "thanks" },
  closed: { before: "closed", during: "closed", after: "closed" },
};

/** The kind of page that answers the address of `kind` at an instant. */
export const gateAnswer = (launch: LaunchPlan, kind: PageKind, at: Date): PageKind => gates[kind][phaseOf(launch.window, at)];
