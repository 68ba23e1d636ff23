import type { ConditionScope } from "../../core/conditions";
import { mailStages, type MailStage } from "../../core/figures";
import type { EntityManager } from "../orm";
import { countPeopleWho } from "../people/find/peopleWho";

/** How many people of a launch were sent an email of it, opened one, and clicked in one. */
export const mailReach = async (em: EntityManager, scope: ConditionScope): Promise<Record<MailStage, number>> => {
  const counted = await Promise.all(mailStages.map(async (mailed) => [mailed, await countPeopleWho(em, { mailed }, scope)] as const));
  return Object.fromEntries(counted) as Record<MailStage, number>;
};
