import { timeOfDay, type LaunchSettings } from "../../core/launch";

const whole = <T extends { time: string | null }>(one: T): T => (timeOfDay.safeParse(one.time).success ? one : { ...one, time: null });

/** Settings as they can be drawn while they are typed: a time of day that is none yet is left out, and said to be wrong at its field. */
export const drawable = (settings: LaunchSettings): LaunchSettings => ({
  ...settings,
  emails: settings.emails.map(whole),
  sequences: settings.sequences.map((sequence) => ({ ...sequence, steps: sequence.steps.map(whole) })),
});
