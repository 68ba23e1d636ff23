import { Temporal } from "temporal-polyfill";
import type { LaunchPage, LaunchPlan, PlanEpisode } from "../plan/launch";
import type { Viewer } from "../clock/viewer";
import type { UnlockSetting } from "../plan/settings";
import type { Window } from "../clock/window";

/** What an unlocking waits for that has no instant yet: the person's opt-in, or the start of their clock. */
export type Awaited = "opt_in" | "clock";

/** A live session as a person finds it: to come, open to join, or over. */
export interface LiveView {
  phase: "before" | "joining" | "over";
  starts: Date;
  ends: Date;
  joinFrom: Date;
  url: string;
  /** Whether its recording may be watched now, and until when. */
  replay: boolean;
  replayUntil?: Date;
}

/** An episode as a person finds it at an instant. */
export interface EpisodeView {
  id: string;
  /** Its place in the run, from 1. */
  number: number;
  page: LaunchPage;
  open: boolean;
  /** When it opens or opened; undefined from the start, or where it still waits for something. */
  opensAt?: Date;
  awaits?: Awaited;
  live?: LiveView;
}

/**
 * When an unlocking takes place for a person, or what it waits for. Days after an opt-in are days of the calendar in the
 * launch's zone, as Temporal counts them: the time of day stays on either side of a change of the clocks.
 */
export const unlocksAt = (plan: LaunchPlan, unlock: UnlockSetting, who: Viewer, window: Window | undefined): { at?: Date; awaits?: Awaited } => {
  if (unlock.on === "start") return {};
  if (unlock.on === "bell") {
    const bell =
      unlock.bell === "run_up"
        ? plan.clock.kind === "fixed"
          ? plan.clock.runUp
          : undefined
        : unlock.bell === "opening"
          ? window?.opens
          : window?.closes;
    return bell ? { at: new Date(bell.getTime() + unlock.minutes * 60_000) } : { awaits: "clock" };
  }
  if (!who.subscribedAt) return { awaits: "opt_in" };
  const joined = Temporal.Instant.fromEpochMilliseconds(who.subscribedAt.getTime()).toZonedDateTimeISO(plan.zone);
  const day = joined.add({ days: unlock.days });
  const at = unlock.time === null ? day : day.toPlainDate().toZonedDateTime({ timeZone: plan.zone, plainTime: Temporal.PlainTime.from(unlock.time) });
  // Joined in the evening, an episode of "the same day at noon" is open at once.
  return { at: new Date(Math.max(at.epochMilliseconds, who.subscribedAt.getTime())) };
};

const liveView = ({ live }: PlanEpisode, window: Window | undefined, at: Date): LiveView | undefined => {
  if (!live) return undefined;
  const { starts, ends, joinFrom, url, replay } = live;
  const phase = at < joinFrom ? "before" : at < ends ? "joining" : "over";
  const replayUntil = replay === "opening" ? window?.opens : replay === "closing" ? window?.closes : undefined;
  const shown = phase === "over" && replay !== "none" && !(replayUntil && at >= replayUntil);
  return { phase, starts, ends, joinFrom, url, replay: shown, ...(replayUntil ? { replayUntil } : {}) };
};

/** The run of episodes as a person finds it at an instant. */
export const episodesAt = (plan: LaunchPlan, who: Viewer, at: Date, window: Window | undefined): EpisodeView[] =>
  plan.episodes.map((episode, index) => {
    const { at: opensAt, awaits } = unlocksAt(plan, episode.unlock, who, window);
    const live = liveView(episode, window, at);
    return {
      id: episode.id,
      number: index + 1,
      page: episode.page,
      open: !awaits && !(opensAt && at < opensAt),
      ...(opensAt ? { opensAt } : {}),
      ...(awaits ? { awaits } : {}),
      ...(live ? { live } : {}),
    };
  });

/** Whether what a run shows hangs on when a person joined the list. */
export const unlocksByOptIn = (plan: LaunchPlan): boolean => plan.episodes.some(({ unlock }) => unlock.on === "opt_in");
