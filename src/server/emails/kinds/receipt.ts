import { taxName } from "../../../core/words";
import type { ReceiptFacts } from "../../../core/emails";
import { formatMoney, orderNumber } from "../../../core/money";
import { lineWords } from "../../../core/offers";
import { EmailMessage, Order, OrderLine } from "../../../store/tables";
import { usedCode } from "../../../store/products/usedCode";
import type { EntityManager } from "../../../store/orm";
import { orderHref } from "../../checkout";
import { libraryHref, linkDays } from "../../delivery";
import { authorizedCharges } from "../../payments";
import type { EmailKind } from "../emailKind";

/** The receipt of an order, or of one line of it that was added later. */
export const receiptOf = async (em: EntityManager, order: Order, lineId?: string): Promise<ReceiptFacts> => {
  const lines = await em.find(OrderLine, lineId ? { orderId: order.id, id: lineId } : { orderId: order.id });
  const money = (minor: number) => formatMoney(minor, order.currency);
  const sum = (pick: (line: OrderLine) => number) => money(lines.reduce((total, line) => total + pick(line), 0));
  const authorized = (await authorizedCharges(em, order)).reduce((total, { amountMinor }) => total + amountMinor, 0);
  const used = await usedCode(em, order);
  const discount = lines.reduce((total, line) => total + line.discountMinor, 0);
  return {
    number: orderNumber(order.number),
    total: sum((l) => l.grossMinor),
    tax: sum((l) => l.taxMinor),
    taxName: taxName(order.country),
    lines: lines.map((line) => ({ name: lineWords(line), gross: money(line.grossMinor), tax: money(line.taxMinor) })),
    ...(order.reverseCharge ? { vatNumber: order.vatNumber! } : {}),
    ...(used && discount > 0 ? { code: { name: used.code, discount: money(discount) } } : {}),
    recurring: order.agreed.filter(({ to }) => to === "later_payments").map(({ words: said }) => said),
    test: order.test,
    ...(authorized > 0 ? { authorized: money(authorized) } : {}),
  };
};

export const receipt: EmailKind<"receipt"> = {
  advertising: false,
  key: () => "receipt",
  async compose({ app, em, context, data, contact }) {
    const order = await em.findOneOrFail(Order, { id: data.orderId });
    const facts = await receiptOf(em, order, data.lineId);
    // One of a line that was added later goes on from that of the order.
    const first = data.lineId ? await em.findOne(EmailMessage, { key: `receipt:${order.id}` }, { fields: ["id"] }) : null;
    return {
      references: first?.id,
      facts: {
        receipt: facts,
        fields: { "order number": facts.number },
        ...(order.test ? {} : { library: libraryHref(app, contact.id, linkDays.receipt) }),
        // Who left before the end comes back to the very offer they left.
        next: `${app.config.origin}${await orderHref(app, em, context, order, 90)}`,
      },
    };
  },
};
