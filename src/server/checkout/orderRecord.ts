import { authorizedCharges, refundableLines } from "../payments";
import { orderEvents } from "../../store/checkout/orderEvents";
import { erasedBuyer } from "../../store/people/record/erasePerson";
import { orderPostings } from "../../store/money/orderPostings";
import { orderCommissions } from "../../store/partners/orderCommissions";
import { Charge, Contact, Dispute, Order, OrderLine, Product, RecurringPayment, Refund } from "../../store/tables";
import type { EntityManager } from "../../store/orm";

/** An order with all that hangs on it: buyer (undefined of one who was erased and whose name is kept no more), lines, payments, what was given back, postings, commissions and what happened. Undefined where there is none of this id. */
export const orderRecord = async (em: EntityManager, id: string) => {
  const order = await em.findOne(Order, { id });
  if (!order) return undefined;
  const [contact, lines, postings, commissions, recurringPayments, refunds, disputes, charges, left, events, authorized] = await Promise.all([
    em.findOneOrFail(Contact, { id: order.contactId }),
    em.find(OrderLine, { orderId: order.id }),
    orderPostings(em, order.id),
    orderCommissions(em, order.id),
    em.find(RecurringPayment, { orderId: order.id }),
    em.find(Refund, { orderId: order.id }, { orderBy: { askedAt: 1 } }),
    em.find(Dispute, { orderId: order.id }, { orderBy: { openedAt: 1 } }),
    order.checkoutId ? em.find(Charge, { checkoutId: order.checkoutId }, { orderBy: { createdAt: 1 } }) : [],
    refundableLines(em, order.id),
    orderEvents(em, order.id),
    authorizedCharges(em, order),
  ]);
  const buyer = contact.erasedAt ? await erasedBuyer(em, order.id) : { name: contact.firstName, email: contact.email };
  const products = await em.find(Product, { id: { $in: recurringPayments.map(({ productId }) => productId) } });
  return { order, contact, buyer, lines, postings, commissions, recurringPayments, refunds, disputes, charges, left, events, authorized, products };
};
