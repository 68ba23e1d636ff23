import { type Every, paymentDay } from "../offers";

/** Money of a payment that went back, or came back: minor units, negative where a dispute was won. */
export interface Return {
  at: Date;
  gross: number;
  by: "refund" | "dispute";
}

/** One payment for a product, and what went back of it. */
export interface Payment {
  lineId: string;
  /** When it was paid, or authorized on the card. */
  at: Date;
  gross: number;
  returns: readonly Return[];
}

/** What is charged again by itself: later payments after the first one, in their order. */
export interface RecurringTerms {
  /** Instalments are one price in parts and end with it; a subscription lasts as long as it is paid. */
  kind: "instalments" | "subscription";
  every: Every;
  /** When the first later payment is due. */
  firstAt: Date;
  later: readonly Payment[];
  endedAt: Date | null;
  /** `paid` where nothing is owed any more, `card_refused` where no further attempt is made, `refunded` where all of it went back. */
  endedBecause: string | null;
}

/** A product that was bought on an order, with all that moved since. */
export interface Purchase {
  kind: "purchase";
  productId: string;
  /** What a bundle held when it was sold. */
  contents: readonly string[];
  orderId: string;
  first: Payment;
  /** Whether the first payment is only held on the card, until the goods are sent. */
  authorized: boolean;
  /** Tries things out: without money, but with access. */
  test: boolean;
  recurring: RecurringTerms | null;
}

/** Access that was given without an order: by hand, or with a list from elsewhere. */
export interface Grant {
  kind: "grant";
  id: string;
  productId: string;
  from: Date;
  until: Date | null;
  revokedAt: Date | null;
  revokedBecause: string | null;
  reason: string;
}

export type AccessSource = Purchase | Grant;

/** Why a source does not open its product any more. */
export const accessEnds = ["refunded", "disputed", "unpaid", "cancelled", "completed", "grant_over", "grant_revoked"] as const;
export type AccessEnd = (typeof accessEnds)[number];

/**
 * What a source says of its product at an instant: not yet; open until an instant (null: for good), and whether a payment is late;
 * or closed and why.
 */
export type SourceStatus = { is: "before" } | { is: "open"; until: Date | null; late: boolean } | { is: "closed"; because: AccessEnd };

const day = 86_400_000;
const before: SourceStatus = { is: "before" };
const forGood: SourceStatus = { is: "open", until: null, late: false };

/** Why payments do not count any more at an instant: all of what was paid has gone back. Payments of nothing always count. */
const returnedBy = (payments: readonly Payment[], at: Date): AccessEnd | undefined => {
  const made = payments.filter((one) => one.at <= at);
  const paid = made.reduce((sum, { gross }) => sum + gross, 0);
  const returns = made.flatMap(({ returns }) => returns).filter((one) => one.at <= at);
  const back = (by?: Return["by"]) => returns.reduce((sum, one) => (by && one.by !== by ? sum : sum + one.gross), 0);
  if (paid === 0 || back() < paid) return undefined;
  return back("dispute") > 0 ? "disputed" : "refunded";
};

/** Why a recurring payment closed, by what ended it; everything else was somebody's wish. */
const ends: Readonly<Record<string, AccessEnd | undefined>> = { card_refused: "unpaid", paid: "completed", refunded: "refunded" };

/** What a recurring payment says: open until the next payment is due, and through the grace time while it is being tried. */
const recurringStatus = (first: Payment, terms: RecurringTerms, graceDays: number, at: Date): SourceStatus => {
  const { kind, every, firstAt } = terms;
  const later = terms.later.filter((one) => one.at <= at);
  const ended = terms.endedAt !== null && terms.endedAt <= at ? terms.endedAt : undefined;
  const all = [first, ...later];
  if (kind === "instalments") {
    const back = returnedBy(all, at);
    if (back) return { is: "closed", because: back };
    if (ended && terms.endedBecause === "paid") return forGood;
  }
  const due = paymentDay(firstAt, every, later.length);
  // Who has paid nothing yet, such as at the end of a trial, is given no time beyond it.
  const paidSome = all.some(({ gross }) => gross > 0);
  const lapses = new Date(due.getTime() + (paidSome ? graceDays : 0) * day);
  // Ended by somebody, what is paid is used up. Ended while a payment was late, it ends there.
  const usedUp = ended && new Date(Math.max(due.getTime(), Math.min(ended.getTime(), lapses.getTime())));
  const until = !usedUp || terms.endedBecause === "card_refused" ? lapses : terms.endedBecause === "paid" ? due : usedUp;
  if (at >= until) return { is: "closed", because: ended ? (ends[terms.endedBecause ?? ""] ?? "cancelled") : "unpaid" };
  if (kind === "subscription") {
    // Each payment is for one period: the last one whose beginning has come.
    const period = all.findIndex((_, index) => index === later.length || at < paymentDay(firstAt, every, index));
    const back = returnedBy([all[period]!], at);
    if (back) return { is: "closed", because: back };
  }
  return { is: "open", until, late: !ended && at >= due };
};

/**
 * What one source says of its product at an instant, from what had happened by then. A payment opens; so does one that is
 * held on the card, and one of nothing. Access lasts while any part of what was paid is still with the vendor: a refund of
 * all of it or a dispute closes it, and a dispute that is won opens it again.
 */
export const sourceStatus = (source: AccessSource, graceDays: number, at: Date): SourceStatus => {
  if (source.kind === "grant") {
    if (at < source.from) return before;
    if (source.revokedAt && source.revokedAt <= at) return { is: "closed", because: "grant_revoked" };
    return source.until && source.until <= at ? { is: "closed", because: "grant_over" } : { is: "open", until: source.until, late: false };
  }
  const { first, recurring } = source;
  if (at < first.at) return before;
  if (recurring) return recurringStatus(first, recurring, graceDays, at);
  const back = returnedBy([first], at);
  return back ? { is: "closed", because: back } : forGood;
};

/** Whether a source is about a product: as what was bought, or as a part of a bundle that was. */
const isAbout = (source: AccessSource, productId: string): boolean =>
  source.productId === productId || (source.kind === "purchase" && source.contents.includes(productId));

export type Access =
  { open: true; until: Date | null; late: boolean; source: AccessSource } | { open: false; because: AccessEnd; source: AccessSource };

/**
 * Whether a product is open to somebody at an instant, and why: the source that keeps it open longest, or, closed, the one
 * that began last. Undefined where nothing ever opened it.
 */
export const accessTo = (sources: readonly AccessSource[], productId: string, graceDays: number, at: Date): Access | undefined => {
  let best: Access | undefined;
  const beginning = (source: AccessSource) => (source.kind === "grant" ? source.from : source.first.at).getTime();
  for (const source of [...sources].sort((a, b) => beginning(a) - beginning(b) || (keyOf(a) < keyOf(b) ? -1 : 1))) {
    if (!isAbout(source, productId)) continue;
    const status = sourceStatus(source, graceDays, at);
    if (status.is === "before") continue;
    if (status.is === "open") {
      if (!best?.open || lasts(status.until) > lasts(best.until)) best = { open: true, until: status.until, late: status.late, source };
    } else if (!best?.open) best = { open: false, because: status.because, source };
  }
  return best;
};

const keyOf = (source: AccessSource): string => (source.kind === "grant" ? source.id : source.first.lineId);
const lasts = (until: Date | null): number => until?.getTime() ?? Infinity;

/** The instants at which what a source says may change, up to the end that is known by now. */
const instantsOf = (source: AccessSource, graceDays: number): Date[] => {
  if (source.kind === "grant") return [source.from, source.until, source.revokedAt].filter((at) => at !== null);
  const { first, recurring } = source;
  const all = [first, ...(recurring?.later ?? [])];
  const moved = all.flatMap(({ at, returns }) => [at, ...returns.map((one) => one.at)]);
  if (!recurring) return moved;
  const dues = all.map((_, index) => paymentDay(recurring.firstAt, recurring.every, index));
  return [...moved, ...dues, ...dues.map((due) => new Date(due.getTime() + graceDays * day)), ...(recurring.endedAt ? [recurring.endedAt] : [])];
};

/** One entry of the log of a product: opened by a source, or closed and why. */
export type AccessChange = { at: Date } & Access;

/** Every change of somebody's access to a product until an instant, the oldest first: the answer to "why can she open this". */
export const accessChanges = (sources: readonly AccessSource[], productId: string, graceDays: number, until: Date): AccessChange[] => {
  const about = sources.filter((source) => isAbout(source, productId));
  const instants = [...new Set(about.flatMap((source) => instantsOf(source, graceDays)).map((at) => at.getTime()))].sort((a, b) => a - b);
  const changes: AccessChange[] = [];
  for (const instant of instants) {
    const at = new Date(instant);
    if (at > until) break;
    const now = accessTo(about, productId, graceDays, at);
    const was = changes.at(-1);
    if (now && (was ? now.open !== was.open : now.open)) changes.push({ at, ...now });
  }
  return changes;
};

/** The products that somebody owns or owned: what they bought, what bundles held, and what was granted. */
export const productsIn = (sources: readonly AccessSource[]): string[] => [
  ...new Set(sources.flatMap((source) => [source.productId, ...(source.kind === "purchase" ? source.contents : [])])),
];

/** Days that access lasts after a payment was due, while its card is tried again (common practice, no source; the last attempt is nine days after the first). */
export const graceDays = 14;
