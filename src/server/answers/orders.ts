import * as contract from "../../contract/orders";
import { answering, type Answering } from "../platform";
import { captureAndFulfil, endAtDesk, refundOrder } from "../payments";
import { enterByHand, sendReceiptAgain } from "../checkout";

export const orderAnswers: Answering[] = [
  answering(contract.refundOrder, ({ app, em, user, params, body }) => refundOrder(app, em, user, params.id, body)),
  answering(contract.captureAndFulfil, ({ app, em, user, params }) => captureAndFulfil(app, em, user, params.id)),
  answering(contract.endRecurringPayment, ({ em, user, params, now }) => endAtDesk(em, user, params.id, now)),
  answering(contract.enterOrder, ({ app, em, user, body }) => enterByHand(app, em, user, body)),
  answering(contract.sendReceiptAgain, ({ app, em, user, params }) => sendReceiptAgain(app, em, user, params.id)),
];
