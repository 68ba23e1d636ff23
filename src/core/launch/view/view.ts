import { nextBell, type Bell } from "./bells";
import { countdownAt, formsOn, type Countdown } from "../clock/countdown";
import { episodesAt, type EpisodeView } from "./episodes";
import { behindAnOrder, gateAnswer } from "./gate";
import { checkoutRefusal } from "../clock/grace";
import { pageOf, type LaunchPage, type LaunchPlan } from "../plan/launch";
import { asOf, windowAndPhase, type Viewer } from "../clock/viewer";
import { availability, priceAt, seatsLeft, type Counters, type PriceView } from "./price";
import { usualSoldOut, type CountdownForm } from "../plan/settings";
import type { WindowPhase } from "../clock/window";

/** What one public address answers. */
export interface AddressView {
  slug: string;
  /** The page whose address this is. */
  owner: LaunchPage;
  answer:
    | { page: LaunchPage }
    /** Goes on to the launch's own address: an offer or thank-you page without an order behind it. */
    | { redirect: "home" }
    /** The checkout of one offer by itself, for who comes to its page without an order. */
    | { redirect: "checkout"; of: string }
    /** Goes on to the launch that this person was handed to. */
    | { redirect: "launch"; launch: string }
    /** Goes on to an address outside. */
    | { redirect: "outside"; address: string };
  /** The episode of this address that is still locked for this person; another page answers meanwhile. */
  locked?: EpisodeView;
  /** Another page answers because no seat is left for this person. */
  soldOut?: true;
  /** The price that the checkout takes, where a page of the launch answers. */
  price?: PriceView;
  /** In which forms the answering page carries the countdown. */
  countdown: CountdownForm[];
}

export interface LaunchView {
  phase: WindowPhase;
  /** What the countdown runs to, if one runs; every page, email and image shows this very instant. */
  countdown?: Countdown;
  seats?: { left: number; of: number };
  /** Whether no seat is left for this person. */
  soldOut: boolean;
  /** The run of episodes, in order; empty where there is none. */
  episodes: EpisodeView[];
  addresses: AddressView[];
}

const phases = ["before", "during", "after"] as const;

interface Ready {
  page: LaunchPage;
  /** What its gate answers in each phase. */
  answers: Record<WindowPhase, AddressView["answer"]>;
}

// What depends on the launch alone is worked out once, not for every person who looks.
const worked = new WeakMap<LaunchPlan, Ready[]>();
const readyOf = (plan: LaunchPlan): Ready[] => {
  let ready = worked.get(plan);
  if (ready) return ready;
  const answerIn = (page: LaunchPage, phase: WindowPhase): AddressView["answer"] => {
    const answer = gateAnswer(plan, page, phase);
    return "address" in answer ? { redirect: "outside", address: answer.address } : { page: pageOf(plan, answer.page) ?? page };
  };
  ready = plan.pages.map((page) => ({
    page,
    answers: Object.fromEntries(phases.map((phase) => [phase, answerIn(page, phase)])) as Ready["answers"],
  }));
  worked.set(plan, ready);
  return ready;
};

const answerFor = (plan: LaunchPlan, { page, answers }: Ready, who: Viewer, phase: WindowPhase, at: Date): AddressView["answer"] => {
  const behind = behindAnOrder(page.kind);
  if (behind && !who.orderedAt) {
    const sold =
      page.kind === "offer" && page.published && phase === "during" && plan.pages.some(({ kind, published }) => kind === "checkout" && published);
    return sold ? { redirect: "checkout", of: page.slug } : { redirect: "home" };
  }
  if (who.stop?.handedTo && !behind) return { redirect: "launch", launch: who.stop.handedTo };
  const graced = page.kind === "checkout" && who.checkoutBegunAt !== undefined && !checkoutRefusal(plan, who, at);
  return graced ? { page } : answers[phase];
};

type Seen = Omit<LaunchView, "addresses">;

/** The page that answers where all seats are taken: what takes addresses, or the closed page, as the vendor chose; the other where it is not published. */
const soldOutPage = ({ pages, settings }: LaunchPlan): LaunchPage | undefined => {
  const kinds = (settings.soldOut ?? usualSoldOut).answer === "closed" ? (["closed", "optin"] as const) : (["optin", "closed"] as const);
  return kinds.map((kind) => pages.find((page) => page.kind === kind && page.published)).find(Boolean);
};

/** Whether no seat is left for a person: none at all, or none for who is not on the list. One that is theirs stays theirs. */
const isSoldOut = (plan: LaunchPlan, who: Viewer, counters: Counters): boolean => {
  if (who.seated) return false;
  const open = availability(plan, counters);
  return open === "sold_out" || (open === "list_only" && !who.subscribedAt);
};

/** What stands in for a locked episode: the newest open one before it, else what the opt-in's address answers, else the launch's own address. */
const standIn = (plan: LaunchPlan, { episodes, phase }: Seen, locked: EpisodeView): AddressView["answer"] => {
  const open = episodes.slice(0, locked.number - 1).findLast((episode) => episode.open);
  if (open) return { page: open.page };
  const optin = readyOf(plan).find(({ page }) => page.kind === "optin")?.answers[phase];
  return optin && !("page" in optin && plan.episodes.some(({ page }) => page === optin.page)) ? optin : { redirect: "home" };
};

const addressView = (plan: LaunchPlan, ready: Ready, who: Viewer, seen: Seen, price: PriceView, at: Date): AddressView => {
  const { page: owner } = ready;
  let answer = answerFor(plan, ready, who, seen.phase, at);
  // A gate may answer with an episode; locked, it is not shown there either.
  const asked = "page" in answer ? answer.page : undefined;
  const locked = asked && seen.episodes.find((episode) => episode.page === asked && !episode.open);
  // The launch's own address is where everything else falls back to: it is never locked.
  if (locked && owner.slug !== "") answer = standIn(plan, seen, locked);
  const held = locked && owner.slug !== "" ? { locked } : {};
  const sells = "page" in answer && (answer.page.kind === "sales" || answer.page.kind === "checkout");
  const instead = seen.soldOut && seen.phase === "during" && sells ? soldOutPage(plan) : undefined;
  if (instead) return { slug: owner.slug, owner, answer: { page: instead }, countdown: [], soldOut: true, price };
  if ("redirect" in answer) return { slug: owner.slug, owner, answer, countdown: [], ...held };
  const countdown = formsOn(plan, answer.page, seen.countdown, at);
  return { slug: owner.slug, owner, answer, countdown, price, ...held };
};

/**
 * What a person sees of a launch at an instant: the page that answers each address, price, seats and countdown.
 * The one function behind the public pages, the checkout, the emails, the images and the score's playhead. Facts about
 * the person that lie after the instant are not known yet and do not count.
 */
export const view = (plan: LaunchPlan, person: Viewer, at: Date, counters: Counters = { sold: 0 }): LaunchView => {
  const who = asOf(person, at);
  const { window, phase } = windowAndPhase(plan, who, at);
  const seen = {
    phase,
    countdown: countdownAt(plan, who, at, window),
    seats: seatsLeft(plan, counters),
    soldOut: isSoldOut(plan, who, counters),
    episodes: episodesAt(plan, who, at, window),
  };
  const price = priceAt(plan, at, counters);
  return { ...seen, addresses: readyOf(plan).map((ready) => addressView(plan, ready, who, seen, price, at)) };
};

const nobody: Viewer = {};
const year = 366 * 86_400_000;
const shared = new WeakMap<LaunchPlan, { from: number; until: number; counters: string; seen: LaunchView }>();

/**
 * What everyone sees of whom nothing is known, the same object until something changes: views change only at bells and
 * with the counters, so that between two bells a crowd is answered from one view.
 */
export const viewOfAll = (plan: LaunchPlan, at: Date, counters: Counters = { sold: 0 }): LaunchView => {
  const ms = at.getTime();
  const kept = shared.get(plan);
  const count = `${counters.sold} ${counters.taken} ${counters.soldOutOnce}`;
  if (kept && kept.from <= ms && ms < kept.until && kept.counters === count) return kept.seen;
  const seen = view(plan, nobody, at, counters);
  const until = nextBell(plan, at)?.at.getTime() ?? ms + year;
  shared.set(plan, { from: ms, until, counters: count, seen });
  return seen;
};

/** The next instant at which something changes for a person. */
export const nextChange = (plan: LaunchPlan, person: Viewer, at: Date): Bell | undefined => nextBell(plan, at, asOf(person, at));
