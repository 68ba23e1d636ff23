/** Payments: charges and their results, authorizations, recurring payments, refunds and disputes. */

export { beginCharge, chargeNow, noCard, refreshCharge, returnUrlOf, settleCharge } from "./charging";
export { authorizedCharges, captureAndFulfil, capturePayment } from "./fulfil";
export { applyCardNotice } from "./notices";
export { endAtDesk, endRecurringPayment, type RecurringPaymentLine, recurringPaymentLines } from "./recurringPayments";
export { refundableLines } from "./refundable";
export { refundOrder, refundRequest, settleRefund } from "./refunds";
export { receiptRows } from "./saleRows";
export { takeDuePayment } from "./takePayment";
