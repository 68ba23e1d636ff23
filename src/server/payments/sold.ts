import type { LaunchContext } from "../launch";
import { Happening } from "../platform";
import type { Order, OrderLine, Partner } from "../../store/tables";

/** What lines need to know of their order. */
export type Placed = Pick<Order, "id" | "launchId" | "contactId" | "placedAt" | "currency" | "test">;
/** The partner who is credited with an order, if any. */
export type Earner = Pick<Partner, "id" | "rateBp"> | null;
export type Line = Pick<OrderLine, "id" | "productId" | "role" | "netMinor" | "taxMinor" | "feeMinor">;

/** Something was sold: the lines that came into an order by one payment, or whose money has come now. */
export interface Sold {
  /** At the checkout; an offer of the path; a recurring payment; goods that go out, whose card was charged; by hand at the desk. */
  how: "ordered" | "offer_accepted" | "rebilled" | "captured" | "entered";
  context: Pick<LaunchContext, "launch" | "plan">;
  order: Placed & Pick<Order, "personId" | "country">;
  earner: Earner;
  /** Each with the days within which it may be given back. */
  lines: readonly (Pick<Line, "id" | "productId" | "role" | "netMinor"> & { refundDays: number })[];
  /** Tax included. */
  amountMinor: number;
  /** Whether the money is here: what is only held on a card is not. */
  paid: boolean;
  /** The browser that pressed, and the page it was on; none where nobody was there. */
  visitorId: string | null;
  page: string;
  /** The step of the path that was accepted. */
  stepId?: string;
  coupon?: { code: string; discountMinor: number };
  /** Whether the buyer is told. By hand the desk says so. */
  receipt: boolean;
  now: Date;
}

export const sold = new Happening<Sold>("something was sold");
