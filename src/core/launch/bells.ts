import { graceEnd } from "./grace";
import type { LaunchPlan } from "./launch";

export type BellKind = "run_up" | "opening" | "closing" | "grace_end";

/** A dated moment that changes what people see. */
export interface Bell {
  kind: BellKind;
  at: Date;
  label: string;
}

/** Every instant at which something changes for everyone, in order. */
export const bells = (launch: LaunchPlan): Bell[] =>
  [
    { kind: "run_up" as const, at: launch.runUpFrom, label: "Run-up begins" },
    { kind: "opening" as const, at: launch.window.opens, label: "Doors open" },
    { kind: "closing" as const, at: launch.window.closes, label: "Doors close" },
    { kind: "grace_end" as const, at: graceEnd(launch), label: "Last begun checkout" },
  ].sort((a, b) => a.at.getTime() - b.at.getTime());

/** The first bell that is still to ring, or undefined when all have. */
export const nextBell = (launch: LaunchPlan, at: Date): Bell | undefined => bells(launch).find((bell) => bell.at > at);
