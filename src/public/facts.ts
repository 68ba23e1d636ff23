import type { AddressView, LaunchPlan, LaunchView } from "../core/launch";
import type { PriceTerms, TaxedAmount, TaxMode } from "../core/offers";
import type { Locale } from "../core/money";
import type { Html } from "./html";

export type Values = Record<string, string | undefined>;
export type Errors = Record<string, string | undefined>;

/** A buyer who is signed in, by their address; or where whoever has bought before signs in. */
export type KnownBuyer = { as: string } | { signIn: string };

/** Where the order of this visitor stands, as the page that asked for it shows it. */
export type OrderFacts =
  /** `of` is the page of an offer that is bought by itself. */
  | { step: "start"; action: string; of?: string; known?: KnownBuyer; bought: Bought }
  | ({ step: "pay"; editHref: string } & PayFacts)
  /** Address, total and card on one page. */
  | ({ step: "one"; of?: string; known?: KnownBuyer } & PayFacts)
  /** The payment is being confirmed elsewhere. */
  | { step: "waiting"; href: string }
  | {
      step: "offer";
      action: string;
      order: string;
      stepId: string;
      amount: TaxedAmount;
      currency: string;
      productName: string;
      /** The buyer's country, and whether their business accounts for the tax. */
      country: string;
      reverse?: boolean;
      picture?: string;
      /** The price that may be struck through beside it. */
      was?: number;
      /** What sending it costs, and what is charged again by itself, in words. */
      shipping?: number;
      recurring?: string;
      /** Only held on the card until it is sent. */
      captureLater: boolean;
      /** What the press asks for beside the product. */
      byPress?: string;
      /** The stored card; empty where another must be given, in the frame. */
      last4: string;
      /** Where the buyer proves that this browser is theirs, which a stored card is offered in alone. */
      signIn?: string;
      cardFieldUrl: string;
      /** Whether *yes* is asked once more, or is being asked. */
      sure?: "later" | "now";
    }
  /** What the checkout sells is paid: the order, and a way to order it once more. */
  | { step: "bought"; href: string; again: string }
  | {
      step: "receipt";
      number: string;
      /** The code that was used, and what it took off before tax. */
      code?: string;
      discount?: number;
      lines: { name: string; contents?: string; gross: number; tax: number }[];
      currency: string;
      /** The buyer's country, by which the tax is named. */
      country: string;
      email: string;
      vatNumber?: string;
      /** What is only held on the card until it is sent, in minor units. */
      authorized: number;
      /** What is charged again by itself, with the way to end it. */
      recurring: { id: string; words: string; ends: boolean }[];
      action: string;
      order: string;
    };

/** A region with a tax rate of its own. */
export interface Region {
  code: string;
  name: string;
  chosen: boolean;
}

/** What is bought, as it stands beside each step of the checkout. */
export interface Bought {
  /** The product, what was added, and the bumps that are ticked. */
  lines: { name: string; amount: TaxedAmount; before?: TaxedAmount; contents?: string }[];
  currency: string;
  taxMode: TaxMode;
  /** The country whose tax is shown. */
  country: string;
  /** A business of another member state: it accounts for the tax itself. */
  reverse: boolean;
  /** Where a code is sent, the one that holds, and why one that was given does not. */
  coupon: { action: string; code?: string; typed?: string; refusal?: string };
  /** What is charged again by itself, in words. */
  recurring: string[];
  /** Only authorized on the card until it ships. */
  captureLater: boolean;
  /** Until when the price is held, where it may rise meanwhile. */
  priceHoldUntil?: Date;
  picture?: string;
  /** Within how many days the money can go back. */
  refundDays: number;
}

/** All that a buyer sees before paying. */
export interface PayFacts extends Bought {
  action: string;
  checkout: string;
  /** What can be chosen: how many, how much, in which currency. */
  choice?: {
    action: string;
    quantity?: number;
    named?: { least: number; minor: number };
    currencies?: string[];
    regions?: Region[];
  };
  cardFieldUrl: string;
  /** The card that this browser paid with before. */
  stored?: { last4: string };
  /** Nothing is to be paid, now or later. */
  free: boolean;
  waiver: boolean;
  terms: string;
  kept: Values;
}

/** What the bumps of a checkout would add for this buyer, by their products. */
export interface BumpFacts {
  action: string;
  checkout: string;
  currency: string;
  taxMode: TaxMode;
  of: Record<string, { name: string; amount: TaxedAmount; ticked: boolean; was?: number; picture?: string } | undefined>;
}

/** A comment that the vendor has let through. */
export interface CommentFacts {
  name: string;
  body: string;
  at: Date;
  reply: string;
}

/** What some blocks ask beyond the clock; looked up for pages that carry them. */
export interface Extras {
  /** Whether this person has a place in the live session of the page. */
  registered?: boolean;
  /** What was said on this page, and on all pages of the run, the newest first. */
  comments?: { page: CommentFacts[]; run: CommentFacts[] };
  /** The signed link to the order behind the page, which its forms hand on: without it the page is not seen again. */
  orderLink?: string;
  /** The `utm_` words of the address, which opt-in forms hand on. */
  tracking?: string;
  /** The block in which this person has just said something. */
  said?: string;
  /** Other launches that a cross-offer shows while they can be bought, by their address. */
  cross?: Record<string, { name: string; opens?: string; price?: string; href: string } | undefined>;
  /** What offers in the page sell, by their products. */
  additions?: Record<string, { name: string; price: string; was?: string; picture?: string } | undefined>;
  /** The word of the partner who sent this person. */
  partner?: { name: string; note: string; picture?: string };
}

/** What the holes of a page are filled from: the launch, who looks and when, and what came of their last step. */
export interface PageFacts {
  plan: LaunchPlan;
  seen: LaunchView;
  address: AddressView;
  /** The page that answers. */
  key: string;
  now: Date;
  /** In which language and how numbers are written. */
  locale: Locale;
  /** Where the app is reached, without a slash at the end. */
  origin: string;
  vendor: string;
  product: { name: string; description: string; taxMode: TaxMode; refundDays: number; terms: PriceTerms };
  /** What a price box may strike through beside the price. */
  was?: number;
  /** The sentence beside the box of an opt-in form. */
  consent: string;
  /** A form that came back: which, what was typed, what is wrong. */
  form: { block?: string; values: Values; errors: Errors };
  /** The form that was just filled in; "" where none is named. */
  listed?: string;
  /** The form whose address waits to be confirmed. */
  asked?: string;
  notice?: Html;
  extras: Extras;
  order?: OrderFacts;
  bumps?: BumpFacts;
  /** What the page says of itself where it is shared. */
  words: { title: string; description: string; picture?: string };
}
