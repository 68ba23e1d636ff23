/** One order as lists show it; minor units, tax included. */
export interface OrderRow {
  id: string;
  number: number;
  placedAt: Date;
  /** The zone of its launch. */
  zone: string;
  buyer: string;
  email: string;
  country: string;
  lines: string;
  grossMinor: number;
  refundedMinor: number;
  /** What of it is only held on the card until the goods go out. */
  authorizedMinor: number;
  /** How its newest dispute stands, if there was one. */
  dispute: string | null;
  currency: string;
  partner: string | null;
  source: string;
  recovered: boolean;
  test: boolean;
}

/** An order's number as it is said: `1204`, or `T12` for one that only tries things out and has a number below zero. */
export const orderNumber = (number: number): string => String(number).replace("-", "T");

/** What the list of orders is narrowed to; everything is optional. Days are ISO 8601. */
export interface OrderFilter {
  launch?: string;
  /** Part of a name, an address or a product, or the very number. */
  search?: string;
  state?: OrderState | "";
  source?: string;
  from?: string;
  until?: string;
}
/** What a list of orders can be sorted by. */
export const orderSorts = ["number", "placed", "buyer", "products", "partner", "source", "paid"] as const;
export type OrderSort = (typeof orderSorts)[number];
export const orderStates = ["authorized", "refunded", "disputed", "recovered", "recurring", "test"] as const;
export type OrderState = (typeof orderStates)[number];

/** The balance of an account; debits positive, minor units. */
export interface Balance {
  account: string;
  currency: string;
  minor: number;
}
