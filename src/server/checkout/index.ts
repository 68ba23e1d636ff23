/** From the first field of a checkout to the last offer of its path, and the orders that come of it. */

export {
  addToOrder,
  applyCoupon,
  chooseAtCheckout,
  currentCheckout,
  keepCode,
  logTry,
  namedAlone,
  restoreCheckout,
  startCheckout,
  tickBump,
} from "./checkout";
export { enterByHand, sendReceiptAgain } from "./handOrders";
export { decideOffer, finishPath, isBuyersBrowser, nextAddress, orderHref, placeOnPath } from "./offerPath";
export { orderFile } from "./orderFile";
export { orderRecord } from "./orderRecord";
export { orderFilterOf, orderSortOf, ordersAskedBy } from "./orderFilter";
export { cardOnFile, mustAgree, payCheckout } from "./paying";
