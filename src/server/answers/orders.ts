import * as contract from "../../contract/orders";
import { answering, type Answering } from "../platform";
import { captureAndFulfil, endAtDesk, refundOrder } from "../payments";
import { listLaunches } from "../launch";
import { orderList } from "../../store/checkout/orderList";
import { enterByHand, orderFilterOf, orderSortOf, sendReceiptAgain } from "../checkout";

export const orderAnswers: Answering[] = [
  answering(contract.listOrders, async ({ em, body, scope }) =>
    orderList(em, orderFilterOf(body, await listLaunches(em)), scope.now, { ...orderSortOf(body), most: 100, after: body.after }),
  ),
  answering(contract.refundOrder, ({ app, em, user, params, body }) => refundOrder(app, em, user, params.id, body)),
  answering(contract.captureAndFulfil, ({ app, em, user, params }) => captureAndFulfil(app, em, user, params.id)),
  answering(contract.endRecurringPayment, ({ em, user, params, now }) => endAtDesk(em, user, params.id, now)),
  answering(contract.enterOrder, ({ app, em, user, body }) => enterByHand(app, em, user, body)),
  answering(contract.sendReceiptAgain, ({ app, em, user, params }) => sendReceiptAgain(app, em, user, params.id)),
];
