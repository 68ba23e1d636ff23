import * as contract from "../../contract/orders";
import { answering, type Answering } from "../platform";
import { captureAndFulfil } from "./fulfil";
import { endAtDesk } from "./recurringPayments";
import { refundOrder } from "./refunds";

export const paymentEndpoints: Answering[] = [
  answering(contract.refundOrder, ({ app, em, user, params, body }) => refundOrder(app, em, user, params.id, body)),
  answering(contract.captureAndFulfil, ({ app, em, user, params }) => captureAndFulfil(app, em, user, params.id)),
  answering(contract.endRecurringPayment, ({ em, user, params, now }) => endAtDesk(em, user, params.id, now)),
];
