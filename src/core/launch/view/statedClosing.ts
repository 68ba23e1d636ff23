import type { ToldOther } from "../../conditions";
import { windowFor } from "../clock/viewer";
import type { LaunchPlan } from "../plan/launch";

/** ISO 8601 without what is always nought. */
const iso = (at: Date): string => at.toISOString().replace(".000Z", "Z");

/** What those meet who were told another closing of a launch than holds at an instant; undefined where its doors close for each person by themselves, or have closed. */
export const toldOtherOf = (plan: LaunchPlan, launchId: string, at: Date): ToldOther | undefined => {
  const window = plan.clock.kind === "personal" ? undefined : windowFor(plan, {}, at);
  if (!window || window.closes <= at) return undefined;
  return { launch: launchId, than: iso(window.closes), after: iso(window.opens) };
};
