/** What follows from what: the one list of rooms that react to another. */

import { disputeWon, refunded, sold } from "../payments";
import { endWhatWasBought, giveCommissionsBack, logRefunds, takeCommissionsBack } from "./returns";
import { earnCommissions, logSales, sendReceipts, stopClocks, useCoupons } from "./sales";

/** Has every room react to what it waits for, in this order. Called when a process starts. */
export const subscribeAll = (): void => {
  sold.subscribe(earnCommissions, sendReceipts, logSales, useCoupons, stopClocks);
  refunded.subscribe(takeCommissionsBack, logRefunds, endWhatWasBought);
  disputeWon.subscribe(giveCommissionsBack);
};
