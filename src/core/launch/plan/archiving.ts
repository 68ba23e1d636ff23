import type { LaunchPlan } from "./launch";
import { windowFor } from "../clock/viewer";

/** Why a launch cannot be archived yet: people can still come to it and buy. */
export type ArchiveRefusal =
  | { code: "doors_open"; closes: Date }
  | { code: "doors_will_open"; opens: Date }
  /** Each person has a clock of their own, so there is no last closing bell. */
  | { code: "always_on" };

/**
 * Whether a launch may leave the lists at an instant; undefined where it may. One that sells, or is going to, stays in
 * sight, its grace time included; one of which nothing is public may always go.
 */
export const archiveRefusal = (plan: LaunchPlan, at: Date): ArchiveRefusal | undefined => {
  if (!plan.pages.some(({ published }) => published)) return undefined;
  if (plan.clock.kind === "personal") return { code: "always_on" };
  const window = windowFor(plan, {}, at);
  if (!window) return undefined;
  if (at < window.opens) return { code: "doors_will_open", opens: window.opens };
  const over = new Date(window.closes.getTime() + plan.settings.graceMinutes * 60_000);
  return at < over ? { code: "doors_open", closes: window.closes } : undefined;
};
