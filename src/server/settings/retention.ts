import type { Retention, RetentionRequest } from "../../core/settings";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { keepFor, retentionOf } from "../../store/settings/retention";
import { mustBeAllowed } from "../platform";

/** Says for how many days something is kept from now on. What is older goes with the next sweep, within the hour, for good. */
export const changeRetention = async (em: EntityManager, user: DeskUser, { what, days }: RetentionRequest): Promise<Retention> => {
  mustBeAllowed(user, "vendor.edit");
  return em.transactional(async (tx) => {
    await keepFor(tx, what, days);
    return retentionOf(tx);
  });
};
