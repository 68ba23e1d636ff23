import { nextBell, type Bell } from "./bells";
import { countdownAt, formsOn, type Countdown } from "./countdown";
import { behindAnOrder, gateAnswer } from "./gate";
import { checkoutRefusal } from "./grace";
import { pageOf, type LaunchPage, type LaunchPlan, type PageKind } from "./launch";
import { asOf, phaseFor, type Onlooker } from "./onlooker";
import { priceAt, seatsLeft, type Counters, type PriceView } from "./price";
import type { CountdownForm } from "./settings";
import type { WindowPhase } from "./window";

/** What one public address answers. */
export interface AddressView {
  slug: string;
  /** The page whose address this is. */
  owner: LaunchPage;
  answer:
    | { page: LaunchPage }
    /** Goes on to the launch's own address: an offer or thank-you page without an order behind it. */
    | { redirect: "home" }
    /** Goes on to the launch that this person was handed to. */
    | { redirect: "launch"; launch: string }
    /** Goes on to an address outside. */
    | { redirect: "outside"; address: string };
  /** Shown where the answering page names a price. */
  price?: PriceView;
  /** In which forms the answering page carries the countdown. */
  countdown: CountdownForm[];
}

export interface LaunchView {
  phase: WindowPhase;
  /** What the countdown runs to, if one runs; every page, email and image shows this very instant. */
  countdown?: Countdown;
  seats?: { left: number; of: number };
  addresses: AddressView[];
}

const priced: readonly PageKind[] = ["sales", "checkout"];

const addressView = (
  plan: LaunchPlan,
  page: LaunchPage,
  who: Onlooker,
  seen: Omit<LaunchView, "addresses">,
  price: PriceView,
  at: Date,
): AddressView => {
  const address = { slug: page.slug, owner: page, countdown: [] };
  if (behindAnOrder(page.kind) && !who.orderedAt) return { ...address, answer: { redirect: "home" } };
  if (who.stop?.handedTo && !behindAnOrder(page.kind)) return { ...address, answer: { redirect: "launch", launch: who.stop.handedTo } };
  const graced = page.kind === "checkout" && who.checkoutBegunAt !== undefined && !checkoutRefusal(plan, who, at);
  const answer = graced ? { page: page.key } : gateAnswer(plan, page, seen.phase);
  if ("address" in answer) return { ...address, answer: { redirect: "outside", address: answer.address } };
  const shown = pageOf(plan, answer.page) ?? page;
  return {
    ...address,
    answer: { page: shown },
    countdown: formsOn(plan, shown, seen.countdown, at),
    ...(priced.includes(shown.kind) ? { price } : {}),
  };
};

/**
 * What a person sees of a launch at an instant: the page that answers each address, price, seats and countdown.
 * The one function behind the public pages, the checkout, the emails, the images and the score's playhead. Facts about
 * the person that lie after the instant are not known yet and do not count.
 */
export const view = (plan: LaunchPlan, person: Onlooker, at: Date, counters: Counters = { sold: 0 }): LaunchView => {
  const who = asOf(person, at);
  const seen = { phase: phaseFor(plan, who, at), countdown: countdownAt(plan, who, at), seats: seatsLeft(plan, counters) };
  const price = priceAt(plan, at, counters);
  return { ...seen, addresses: plan.pages.map((page) => addressView(plan, page, who, seen, price, at)) };
};

/** The next instant at which something changes for a person. */
export const nextChange = (plan: LaunchPlan, person: Onlooker, at: Date): Bell | undefined => nextBell(plan, at, asOf(person, at));
