import { bells } from "../view/bells";
import type { LaunchPlan } from "../plan/launch";
import type { Viewer } from "./viewer";
import type { CounterHistory } from "../view/sales";
import { view, type AddressView, type LaunchView } from "../view/view";

/** A stretch of time in which something stays the same. */
export interface Span<T> {
  from: Date;
  to: Date;
  is: T;
}

// Without a history nothing was sold.
const nothingSold: CounterHistory = { at: () => ({ sold: 0 }), changes: [] };

/** Cuts `[from, to)` at the bells of a person and where the counters changed, and joins the neighbours that are alike: views change only there. */
const spans = <T>(
  plan: LaunchPlan,
  who: Viewer,
  from: Date,
  to: Date,
  read: (seen: LaunchView) => T,
  alike: (value: T) => string,
  history = nothingSold,
): Span<T>[] => {
  const inside = bells(plan, who, { from, to }).map(({ at }) => at.getTime());
  const starts = [...(who.starts ?? []), who.subscribedAt].flatMap((at) => (at ? [at.getTime()] : []));
  const cuts = [
    ...new Set([
      from.getTime(),
      ...[...inside, ...starts, ...history.changes.map((at) => at.getTime())].filter((at) => at > from.getTime() && at < to.getTime()),
      to.getTime(),
    ]),
  ].sort((a, b) => a - b);
  const found: Span<T>[] = [];
  for (let i = 0; i + 1 < cuts.length; i += 1) {
    const is = read(view(plan, who, new Date(cuts[i]!), history.at(new Date(cuts[i]!))));
    const last = found.at(-1);
    if (last && alike(last.is) === alike(is)) last.to = new Date(cuts[i + 1]!);
    else found.push({ from: new Date(cuts[i]!), to: new Date(cuts[i + 1]!), is });
  }
  return found;
};

/** What an address answers a person between `from` and `to`, span by span. */
export const answerSpans = (
  plan: LaunchPlan,
  who: Viewer,
  slug: string,
  from: Date,
  to: Date,
  history?: CounterHistory,
): Span<AddressView["answer"]>[] =>
  spans(
    plan,
    who,
    from,
    to,
    (seen) => seen.addresses.find((address) => address.slug === slug)!.answer,
    (answer) =>
      "page" in answer ? answer.page.key : `${answer.redirect} ${"launch" in answer ? answer.launch : "address" in answer ? answer.address : ""}`,
    history,
  );

/** What a person's countdown runs to and how urgent it looks, span by span; undefined where none is to be seen. */
export const countdownSpans = (plan: LaunchPlan, who: Viewer, from: Date, to: Date): Span<LaunchView["countdown"]>[] =>
  spans(
    plan,
    who,
    from,
    to,
    (seen) => seen.countdown,
    (countdown) => (countdown ? `${countdown.until.getTime()} ${countdown.stage?.id ?? ""}` : ""),
  );
