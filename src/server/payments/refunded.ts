import type { RefundItem } from "../../core/offers";
import type { Order } from "../../store/tables";
import { Happening } from "../platform";
import type { Refundable } from "./refundable";

/** Money went back for lines of an order: given back by the desk, or taken back by the bank. */
export interface Refunded {
  by: "refund" | "dispute";
  /** The refund or the dispute. */
  id: string;
  order: Order;
  items: readonly RefundItem[];
  /** The lines of the order, with what has gone back of each by now. */
  lines: readonly Refundable[];
  amountMinor: number;
  currency: string;
  now: Date;
}

export const refunded = new Happening<Refunded>("money went back");

/** The bank decided for the vendor: what a dispute had taken back stands again. */
export interface DisputeWon {
  id: string;
  orderId: string;
  currency: string;
  now: Date;
}

export const disputeWon = new Happening<DisputeWon>("a dispute was won");
