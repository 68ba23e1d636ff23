import { Temporal } from "temporal-polyfill";
import type { SequenceSetting, StepSetting } from "../../launch";

const minute = 60_000;

/**
 * When a step goes to somebody: so long after their moment, and then at the first such time of day in their zone where it names one. A time of day
 * that the clocks leave out or repeat is taken as `compatible` (ECMAScript Temporal).
 */
export const stepDueAt = ({ minutes, time }: Pick<StepSetting, "minutes" | "time">, moment: Date, zone: string): Date => {
  const from = new Date(moment.getTime() + minutes * minute);
  if (time === null) return from;
  const start = Temporal.Instant.fromEpochMilliseconds(from.getTime()).toZonedDateTimeISO(zone);
  const at = (day: Temporal.PlainDate) => day.toPlainDateTime(Temporal.PlainTime.from(time)).toZonedDateTime(zone).epochMilliseconds;
  const today = at(start.toPlainDate());
  return new Date(today >= from.getTime() ? today : at(start.toPlainDate().add({ days: 1 })));
};

/** A step of a sequence with the instant at which it goes to somebody, quiet hours and cap aside. */
export interface DatedStep {
  step: StepSetting;
  at: Date;
}

/** The steps of a sequence for somebody whose moment it is counted from, in the order in which they go. */
export const sequenceRun = ({ steps }: Pick<SequenceSetting, "steps">, moment: Date, zone: string): DatedStep[] =>
  steps.map((step) => ({ step, at: stepDueAt(step, moment, zone) })).sort((a, b) => a.at.getTime() - b.at.getTime());

/** The longest that a step waits for its time of day, in minutes: a day, and the hours that the clocks may be set back by. */
export const longestStepWait = 27 * 60;
/** Later than this it is not what followed the moment any more. */
const mayBeLate = 48 * 60;

/** Why a step of a sequence says nothing of use any more. */
export type StepOvertaken = "next_is_due" | "too_late";

/** Why a step must not go at an instant, or undefined where it may: when the next of its sequence is due as well, or two days after it was due. */
export const stepOvertaken = (
  step: StepSetting,
  { steps }: Pick<SequenceSetting, "steps">,
  moment: Date,
  zone: string,
  at: Date,
): StepOvertaken | undefined => {
  const due = stepDueAt(step, moment, zone);
  const next = steps.some((other) => {
    const then = stepDueAt(other, moment, zone);
    return other.id !== step.id && then > due && then <= at;
  });
  if (next) return "next_is_due";
  return at.getTime() - due.getTime() > mayBeLate * minute ? "too_late" : undefined;
};
