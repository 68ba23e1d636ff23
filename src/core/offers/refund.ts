import { multiplyRounded, split } from "../money";

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

/** The tax in a part of a line. What is left over goes back with the last part, so that all parts add up to the line. */
const taxOf = ({ gross, tax, refunded }: RefundableLine, part: number): number => {
  const left = gross - refunded.gross;
  return part === left ? tax - refunded.tax : Math.min(multiplyRounded(tax, part, gross), tax - refunded.tax);
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
 * How much of a commission is taken back once so much of its line's net has gone back in all: in proportion, and all
 * of it with the last cent. `reversed` was taken back before.
 */
export const commissionToReverse = (commission: number, reversed: number, net: number, refundedNet: number): number =>
  net <= 0 ? commission - reversed : Math.min(commission, multiplyRounded(commission, Math.min(refundedNet, net), net)) - reversed;
