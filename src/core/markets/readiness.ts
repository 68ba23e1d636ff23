import { counted } from "../words";

/** What a marketplace asks of a listing, as data: it publishes this itself. */
export interface MarketplaceTerms {
  name: string;
  picture: { minWidth: number; minHeight: number; maxBytes: number };
  maxRefundDays: number;
  minRefundDays: number;
  feeBp: number;
}

/** What is known of a listing and its product. `undefined` means that it cannot be told yet. */
export interface ListingFacts {
  picture?: { width: number; height: number; bytes: number };
  refundDays: number;
  termsAcceptedAt?: Date;
  testOrderAt?: Date;
  /** False while the product's checkout cannot run, so that a test order is not possible. */
  checkoutPublished: boolean;
}

export type RuleKey = "picture" | "refund_window" | "terms" | "test_order";
export interface RuleStatus {
  rule: RuleKey;
  status: "met" | "not_met" | "cannot_tell";
  /** The rule in words. */
  asks: string;
  /** What was found. */
  found: string;
  /** The field that mends it, as a fragment of the listing's own screen. */
  fix: RuleKey;
}

/** Every rule of the marketplace held against the listing. */
export const readiness = (terms: MarketplaceTerms, facts: ListingFacts): RuleStatus[] => {
  const { picture } = facts;
  const { minWidth, minHeight, maxBytes } = terms.picture;
  const fits = picture && picture.width >= minWidth && picture.height >= minHeight && picture.bytes <= maxBytes;
  const refundFits = facts.refundDays >= terms.minRefundDays && facts.refundDays <= terms.maxRefundDays;
  return [
    {
      rule: "picture",
      fix: "picture",
      status: fits ? "met" : "not_met",
      asks: `A picture of at least ${minWidth} × ${minHeight} pixels and at most ${Math.floor(maxBytes / 1024)} KiB.`,
      found: picture ? `The picture is ${picture.width} × ${picture.height} pixels, ${Math.ceil(picture.bytes / 1024)} KiB.` : "There is no picture.",
    },
    {
      rule: "refund_window",
      fix: "refund_window",
      status: refundFits ? "met" : "not_met",
      asks: `A refund window from ${terms.minRefundDays} to ${terms.maxRefundDays} days.`,
      found: `The product promises ${counted(facts.refundDays, "day")}.`,
    },
    {
      rule: "terms",
      fix: "terms",
      status: facts.termsAcceptedAt ? "met" : "not_met",
      asks: `The seller's terms of ${terms.name} are accepted.`,
      found: facts.termsAcceptedAt ? "Accepted." : "Not accepted.",
    },
    {
      rule: "test_order",
      fix: "test_order",
      status: facts.testOrderAt ? "met" : facts.checkoutPublished ? "not_met" : "cannot_tell",
      asks: "One test order of the product went through.",
      found: facts.testOrderAt
        ? "A test order went through."
        : facts.checkoutPublished
          ? "No test order yet."
          : "Publish the checkout first; then one can be made.",
    },
  ];
};

/** Steps of a listing's life; the database holds the same list. */
export const listingSteps = {
  draft: ["submitted"],
  submitted: ["live", "returned"],
  returned: ["submitted"],
  live: [],
} as const;
export type ListingState = keyof typeof listingSteps;
export const listingStates = Object.keys(listingSteps) as ListingState[];

export type SubmitRefusal = { code: "gaps_open"; rules: RuleKey[] } | { code: "wrong_state"; state: ListingState };

/** Why a listing may not be submitted, or undefined. */
export const submitRefusal = (state: ListingState, rules: RuleStatus[]): SubmitRefusal | undefined => {
  if (!(listingSteps[state] as readonly string[]).includes("submitted")) return { code: "wrong_state", state };
  const open = rules.filter(({ status }) => status !== "met").map(({ rule }) => rule);
  return open.length > 0 ? { code: "gaps_open", rules: open } : undefined;
};
