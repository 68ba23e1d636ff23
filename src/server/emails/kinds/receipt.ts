import { taxName } from "../../../core/words";
import { receiptWords } from "../../../core/emails";
import { formatMoney, orderNumber } from "../../../core/money";
import { lineWords } from "../../../core/offers";
import { Order, OrderLine } from "../../../store/tables";
import { usedCode } from "../../../store/products/usedCode";
import { orderHref } from "../../checkout";
import { libraryHref, linkDays } from "../../delivery";
import { authorizedCharges } from "../../payments";
import type { EmailKind } from "../emailKind";

export const receipt: EmailKind<"receipt"> = {
  advertising: false,
  async compose({ app, em, context, data, contact }) {
    const order = await em.findOneOrFail(Order, { id: data.orderId });
    const lines = await em.find(OrderLine, data.lineId ? { orderId: order.id, id: data.lineId } : { orderId: order.id });
    const money = (minor: number) => formatMoney(minor, order.currency);
    const sum = (pick: (line: OrderLine) => number) => money(lines.reduce((total, line) => total + pick(line), 0));
    const authorized = (await authorizedCharges(em, order)).reduce((total, { amountMinor }) => total + amountMinor, 0);
    const used = await usedCode(em, order);
    const discount = lines.reduce((total, line) => total + line.discountMinor, 0);
    const words = receiptWords({
      firstName: contact.firstName,
      number: orderNumber(order.number),
      total: sum((l) => l.grossMinor),
      tax: sum((l) => l.taxMinor),
      taxName: taxName(order.country),
      lines: lines.map((line) => ({
        name: lineWords(line),
        gross: money(line.grossMinor),
        tax: money(line.taxMinor),
      })),
      ...(order.reverseCharge ? { vatNumber: order.vatNumber! } : {}),
      ...(used && discount > 0 ? { code: { name: used.code, discount: money(discount) } } : {}),
      recurring: order.agreed.filter(({ to }) => to === "later_payments").map(({ words: said }) => said),
      test: order.test,
      ...(authorized > 0 ? { authorized: money(authorized) } : {}),
      ...(order.test ? {} : { library: libraryHref(app, contact.id, linkDays.receipt) }),
      // Who left before the end comes back to the very offer they left.
      link: `${app.config.origin}${await orderHref(app, em, context, order, 90)}`,
    });
    return { words };
  },
};
