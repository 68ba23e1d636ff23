/** Offer paths and what their steps cost now: prices, seats, bumps. */

export { addCheckout } from "./addCheckout";
export { closedSteps, mustBeSold, mustHaveSeat, withSeats } from "./availability";
export { offersView, setAssumptions } from "./offersView";
export {
  checkoutLines,
  type CheckoutQuote,
  kindsAtOnce,
  mainPriceAt,
  offerLines,
  openBumps,
  type Place,
  quote,
  type QuotedCheckout,
  type QuotedLine,
  ratesFor,
  reverseChargeOf,
  soldBy,
  wasPrice,
} from "./quote";
export { changePath, copiedPath, savePath } from "./savePath";
export { countersFor, countersOf, notifySold } from "./soldCounters";
