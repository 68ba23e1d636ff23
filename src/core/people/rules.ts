import { z } from "zod";
import { longestAnswer } from "./fields";
import { tag } from "./record";

/** What a rule does with whoever meets its condition: sets or removes a tag, fills a field, or stops the emails of a launch to them. */
export const ruleAction = z.discriminatedUnion("does", [
  z.object({ does: z.literal("tag"), tag }),
  z.object({ does: z.literal("untag"), tag }),
  z.object({ does: z.literal("fill"), field: z.string().trim().min(1).max(200), value: z.string().trim().min(1).max(longestAnswer) }),
  z.object({ does: z.literal("leave"), launch: z.uuid() }),
]);
export type RuleAction = z.infer<typeof ruleAction>;

/** How long an event may take from its instant to the log: so far back a rule looks again, that it misses none. */
const overlapMs = 15_000;
/** How often everybody is asked, for conditions that come true by time alone; and at most, where more people changed than can be told one by one. */
const everybodyMs = 60 * 60_000;
const crowdMs = 60_000;

/** How far a rule has looked: for whom something changed, and at everybody. */
export interface RuleProgress {
  lookedAt: Date;
  everybodyAt: Date;
}

/** From when on changes are looked for. A clock that was set back is looked over again rather than waited for. */
export const lookSince = ({ lookedAt }: RuleProgress, now: Date): Date => new Date(Math.min(lookedAt.getTime(), now.getTime()) - overlapMs);

/** Whom a rule is asked of next, where `changed` people are known to have changed (undefined: too many to tell): these, everybody, or nobody yet. */
export const whomToAsk = ({ everybodyAt }: RuleProgress, changed: number | undefined, now: Date): "everybody" | "changed" | "nobody" => {
  const away = Math.abs(now.getTime() - everybodyAt.getTime());
  if (away >= everybodyMs || (changed === undefined && away >= crowdMs)) return "everybody";
  return changed === undefined || changed === 0 ? "nobody" : "changed";
};
