import { conditionSentence, type ConditionNames } from "../../core/conditions";
import type { MomentSetting, SequenceSetting, StepSetting } from "../../core/launch";
import { lengthWords } from "../../core/words";

/** What the moments are called that a sequence counts from. */
export const momentNames: Record<MomentSetting["on"], string> = {
  opt_in: "the opt-in",
  confirmed: "the address is confirmed",
  checkout: "a checkout is begun",
  bought: "a purchase",
  refunded: "a refund",
  tag: "a tag is set",
  clock_start: "their own clock starts",
  clock_end: "their own clock ends",
  notice: "another tool reports something",
};

/** A moment in words: `a purchase of Stitch Library`. */
export const momentWords = (from: MomentSetting, products: readonly { id: string; name: string }[]): string => {
  if (from.on === "tag") return `the tag “${from.tag}” is set`;
  if (from.on === "notice") return `another tool reports “${from.name}”`;
  if ("product" in from && from.product)
    return `${momentNames[from.on]} of ${products.find(({ id }) => id === from.product)?.name ?? "a product that is gone"}`;
  return momentNames[from.on];
};

/** When a step goes, counted from the moment: `3 days later, then at 08:00 in their zone`. */
export const stepWords = ({ minutes, time }: Pick<StepSetting, "minutes" | "time">): string => {
  if (time === null) return minutes === 0 ? "at once" : `${lengthWords(minutes)} later`;
  return minutes === 0 ? `at ${time} in their zone` : `${lengthWords(minutes)} later, then at ${time} in their zone`;
};

/** Who gets a step, where not everybody does. */
export const whenWords = ({ when }: Pick<StepSetting, "when">, names: ConditionNames): string =>
  when ? `whoever ${conditionSentence(when, names)}` : "everybody in it";

/** When a sequence ends for somebody, beside an unsubscription. */
export const endsWords = ({ untilBought, untilClosed }: Pick<SequenceSetting, "untilBought" | "untilClosed">): string => {
  const ends = [...(untilBought ? ["the purchase"] : []), ...(untilClosed ? ["the close"] : [])];
  return ends.length > 0 ? `stops at ${ends.join(" and at ")}` : "goes on after purchase and close";
};
