import { nextBell, type Bell } from "./bells";
import { gateAnswer } from "./gate";
import { checkoutRefusal } from "./grace";
import type { LaunchPage, LaunchPlan, PageKind } from "./launch";
import { phaseOf, type WindowPhase } from "./window";

/** What the clock knows of the person who looks: when they began a checkout, and whether an order stands behind them. */
export interface Onlooker {
  checkoutBegunAt?: Date;
  hasOrder?: boolean;
}

/** Kinds of pages that carry the countdown: those whose gate moves with the bell. */
export const countdownKinds: readonly PageKind[] = ["optin", "sales", "checkout"];

/** What one public address answers. */
export interface AddressView {
  slug: string;
  /** The page whose address this is. */
  owner: PageKind;
  answer:
    | { kind: PageKind; published: true }
    | { kind: PageKind; published: false }
    /** An offer or thank-you page without an order behind it leads to the launch's own address. */
    | { redirect: "" };
  /** Shown where the answering page names a price. */
  price?: { minor: number; currency: string };
}

export interface LaunchView {
  phase: WindowPhase;
  /** What the countdown runs to, if one runs. */
  countdown?: { until: Date; to: "opening" | "closing" };
  addresses: AddressView[];
  nextBell?: Bell;
}

/** The instant a countdown runs to: the opening before the doors, the closing while they are open, none after. */
export const countdownAt = (launch: LaunchPlan, at: Date): LaunchView["countdown"] => {
  const phase = phaseOf(launch.window, at);
  if (phase === "before") return { until: launch.window.opens, to: "opening" };
  return phase === "during" ? { until: launch.window.closes, to: "closing" } : undefined;
};

const answerOf = (launch: LaunchPlan, page: LaunchPage, who: Onlooker, at: Date): AddressView => {
  const address = { slug: page.slug, owner: page.kind };
  const needsOrder = page.kind === "offer" || page.kind === "thanks";
  if (needsOrder && !who.hasOrder) return { ...address, answer: { redirect: "" } };
  const graced = page.kind === "checkout" && who.checkoutBegunAt && !checkoutRefusal(launch, who.checkoutBegunAt, at);
  const kind = graced ? "checkout" : gateAnswer(launch, page.kind, at);
  const published = launch.pages.some((other) => other.kind === kind && other.published);
  const priced = kind === "sales" || kind === "checkout";
  return { ...address, answer: { kind, published }, ...(priced ? { price: launch.price } : {}) };
};

/**
 * What a person sees of a launch at an instant: the page that answers each address, the price and the countdown.
 * The one function behind the public pages, the score's playhead and the emails.
 */
export const view = (launch: LaunchPlan, who: Onlooker, at: Date): LaunchView => ({
  phase: phaseOf(launch.window, at),
  countdown: countdownAt(launch, at),
  addresses: launch.pages.map((page) => answerOf(launch, page, who, at)),
  nextBell: nextBell(launch, at),
});
