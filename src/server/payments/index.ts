/** Payments: charges and their results, authorizations, recurring payments, refunds and disputes. */

export { beginCharge, chargeNow, noCard, refreshCharge, returnUrlOf, settleCharge } from "./charging";
export { authorizedCharges, captureAndFulfil, capturePayment } from "./fulfil";
export { applyCardNotice } from "./notices";
export { endAtDesk, endRecurringPayment, type RecurringPaymentLine, recurringPaymentLines } from "./recurringPayments";
export { refundableLines } from "./refundable";
export { disputeWon, type DisputeWon, refunded, type Refunded } from "./refunded";
export { refundOrder, settleRefund } from "./refunds";
export { receiptRows } from "./saleRows";
export { sold, type Sold } from "./sold";
export { takeDuePayment } from "./takePayment";
