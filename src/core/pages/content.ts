import { z } from "zod";
import type { LaunchPlan, PageKind } from "../launch";

/** The words of a page that the vendor may change. */
export const pageContent = z.object({
  headline: z.string().trim().min(1, "A page needs a headline.").max(160, "160 characters at most."),
  text: z.string().trim().min(1, "Say something below the headline.").max(4000, "4,000 characters at most."),
  button: z.string().trim().min(1, "The button must say what it does.").max(60, "60 characters at most."),
});
export type PageContent = z.infer<typeof pageContent>;

export const pageNames: Record<PageKind, string> = {
  optin: "Opt-in",
  sales: "Sales",
  checkout: "Checkout",
  offer: "One-time offer",
  thanks: "Thank you",
  closed: "Closed",
  content: "Content",
};

/** The ready templates: words to start from, for a product of this name. */
export const templates = (product: string): Record<PageKind, PageContent> => ({
  optin: {
    headline: `${product} opens soon.`,
    text: "Leave your address and you will be told the moment the doors open.",
    button: "Tell me when it opens",
  },
  sales: {
    headline: `${product} is open.`,
    text: "Say here what the buyer will be able to do afterwards that they cannot do today.",
    button: "Go to the checkout",
  },
  checkout: { headline: "Your order", text: "You pay once. The receipt comes by email.", button: "Pay now" },
  offer: {
    headline: "One thing more, only here.",
    text: "Say here why this goes well with what was just bought.",
    button: "Yes, add it to my order",
  },
  thanks: { headline: "Thank you.", text: "The receipt is on its way to your inbox.", button: "Back to the start" },
  closed: { headline: "The doors are closed.", text: "Leave your address and you will be told the next time.", button: "Tell me next time" },
  content: { headline: `About ${product}.`, text: "Say here what is worth reading before the doors open.", button: "Go on" },
});

/** The words an episode of the run-up begins with. */
export const episodeTemplate = (product: string, number: number): PageContent => ({
  headline: `Episode ${number}`,
  text: `Say here what a visitor learns in part ${number} before ${product} opens.`,
  button: "Go on",
});

/** Pages that must be published before anything may be charged. */
export const neededToCharge: PageKind[] = ["sales", "checkout", "thanks"];

/** Kinds that stop a launch from charging because they are not published. A launch that stops at the opt-in never charges, so it misses nothing. */
export const missingToCharge = ({ shape, pages }: Pick<LaunchPlan, "shape" | "pages">): PageKind[] =>
  shape === "list" ? [] : neededToCharge.filter((kind) => !pages.some((page) => page.kind === kind && page.published));
