import { toldOtherOf } from "../../../core/launch";
import { otherClosings } from "../../../store/emails/statedClosings";
import type { EntityManager } from "../../../store/orm";
import type { LaunchContext } from "../../launch";

/** How many people were last told that the doors close at another time than they do, and at which. */
export const movedClosing = async (
  em: EntityManager,
  { plan, launch }: Pick<LaunchContext, "launch" | "plan">,
  now: Date,
): Promise<{ closes: Date | null; told: { closing: Date; people: number; mayWrite: number }[] }> => {
  const asked = toldOtherOf(plan, launch.id, now);
  return asked ? { closes: new Date(asked.than), told: await otherClosings(em, asked, now) } : { closes: null, told: [] };
};
