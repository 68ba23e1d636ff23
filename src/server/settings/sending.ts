import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/settings";
import { launchesAtWork } from "../../store/launch/launchesAtWork";
import { writeSendingLimits } from "../../store/settings/sending";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, queue, Refusal } from "../platform";

/** Holds mail to many back otherwise from now on. What waits is dated anew, launch by launch. Answers the new version. */
export const changeSendingLimits = async (
  em: EntityManager,
  user: DeskUser,
  { version, limits }: BodyOf<typeof contract.changeSendingLimits>,
  now: Date,
): Promise<{ version: number }> => {
  mustBeAllowed(user, "vendor.edit");
  await em.transactional(async (tx) => {
    if (!(await writeSendingLimits(tx, limits, version))) throw new Refusal({ code: "changed_meanwhile", what: "sending" });
    for (const id of await launchesAtWork(tx)) await queue(tx, "reschedule_emails", { id }, now, `hang:${id}`);
  });
  return { version: version + 1 };
};
