import { multiplyRounded, split } from "../../money";

/** What is given back of a line; minor units. `net` and `tax` add up to the amount. */
export interface RefundItem {
  lineId: string;
  gross: number;
  tax: number;
}

/** What can be given back of a line: what was paid, less what went back before. */
export interface RefundableLine {
  id: string;
  gross: number;
  tax: number;
  refunded: { gross: number; tax: number };
}

export type RefundRefusal = { code: "nothing_asked" } | { code: "more_than_left"; lineId: string; left: number };

/**
 * The tax in a part of a line: after any parts, as much tax has gone back as is in all of them together, rounded once. So
 * the whole gives back the whole, and no part has a negative net. A line of which parts went back by another rule is
 * brought up to that by its next parts, as far as each of them holds it; the last part settles what is left.
 */
const taxOf = ({ gross, tax, refunded }: RefundableLine, part: number): number => {
  const gone = refunded.gross + part;
  const due = multiplyRounded(tax, gone, gross) - refunded.tax;
  return gone === gross ? due : Math.min(part, Math.max(0, due));
};

/** What goes back of each line, or why it may not. Amounts in minor units by the ids of lines; a line that is left out keeps all. */
export const refundItems = (lines: readonly RefundableLine[], asked: Readonly<Record<string, number | undefined>>): RefundItem[] | RefundRefusal => {
  const items: RefundItem[] = [];
  for (const line of lines) {
    const part = asked[line.id] ?? 0;
    if (part <= 0) continue;
    const left = line.gross - line.refunded.gross;
    if (part > left) return { code: "more_than_left", lineId: line.id, left };
    items.push({ lineId: line.id, gross: part, tax: taxOf(line, part) });
  }
  return items.length > 0 ? items : { code: "nothing_asked" };
};

/** An amount for a whole order, shared among what is left of its lines; undefined where it is more than that. */
export const spreadRefund = (lines: readonly RefundableLine[], amount: number): Record<string, number> | undefined => {
  const left = lines.map((line) => line.gross - line.refunded.gross);
  const sum = left.reduce((a, b) => a + b, 0);
  if (amount <= 0 || amount > sum) return undefined;
  return Object.fromEntries(split(amount, left).map((part, index) => [lines[index]!.id, part]));
};

/**
 * What a dispute over an amount takes of the lines of a charge, by what is left of each; and what it takes beyond that,
 * where the bank reclaims what has been given back already.
 */
export const disputeItems = (lines: readonly RefundableLine[], amount: number): { items: RefundItem[]; beyond: number } => {
  const left = lines.reduce((sum, { gross, refunded }) => sum + gross - refunded.gross, 0);
  const taken = Math.min(amount, left);
  const items = refundItems(lines, spreadRefund(lines, taken) ?? {});
  return { items: Array.isArray(items) ? items : [], beyond: amount - taken };
};

/**
 * How much of a commission is taken back once so much of its line's net has gone back in all: in proportion, and all
 * of it with the last cent. `reversed` was taken back before.
 */
export const commissionToReverse = (commission: number, reversed: number, net: number, refundedNet: number): number =>
  net <= 0 ? commission - reversed : multiplyRounded(commission, Math.min(refundedNet, net), net) - reversed;
