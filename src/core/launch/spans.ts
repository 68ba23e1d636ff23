import { bells } from "./bells";
import type { LaunchPlan, PageKind } from "./launch";
import { view } from "./view";

/** A stretch of time in which one page answers an address, for a new visitor. */
export interface AnswerSpan {
  from: Date;
  to: Date;
  answer: PageKind | "unpublished" | "elsewhere";
}

/** What an address answers between `from` and `to`, span by span: views change only at bells. */
export const answerSpans = (launch: LaunchPlan, slug: string, from: Date, to: Date): AnswerSpan[] => {
  const cuts = [
    from,
    ...bells(launch)
      .map(({ at }) => at)
      .filter((at) => at > from && at < to),
    to,
  ];
  const spans: AnswerSpan[] = [];
  for (let i = 0; i + 1 < cuts.length; i += 1) {
    const answer = view(launch, {}, cuts[i]!).addresses.find((address) => address.slug === slug)?.answer;
    const kind = !answer || "redirect" in answer ? "elsewhere" : answer.published ? answer.kind : "unpublished";
    const last = spans.at(-1);
    if (last?.answer === kind) last.to = cuts[i + 1]!;
    else spans.push({ from: cuts[i]!, to: cuts[i + 1]!, answer: kind });
  }
  return spans;
};
