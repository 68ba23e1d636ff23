import { phaseFor, type LaunchPlan } from "../../core/launch";
import type { EntityManager } from "../../store/orm";
import { clockStarts } from "../../store/launch/clockStarts";

/** How many people's own clocks run at an instant: started, not over, not stopped. */
export const runningClocks = async (em: EntityManager, launchId: string, plan: LaunchPlan, at: Date): Promise<number> =>
  (await clockStarts(em, launchId, at)).filter(({ starts, stopped }) => !stopped && phaseFor(plan, { starts }, at) === "during").length;
