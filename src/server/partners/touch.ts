import { randomUUID } from "node:crypto";
import { Partner } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { personOf } from "../people/identity";

/** Records a visit through a partner's link; an unknown code is no touch. The same link within a minute counts once. */
export const recordTouch = async (em: EntityManager, launchId: string, code: string, visitorId: string, now: Date): Promise<void> => {
  const partner = await em.findOne(Partner, { code: code.toLowerCase() });
  if (!partner) return;
  await em.transactional(async (tx) => {
    const personId = await personOf(tx, visitorId, now);
    const recent = await tx.execute("select 1 from touch where person_id = ? and launch_id = ? and partner_id = ? and at > ?", [
      personId,
      launchId,
      partner.id,
      new Date(now.getTime() - 60_000),
    ]);
    if (recent.length > 0) return;
    await tx.execute("insert into touch (id, launch_id, person_id, partner_id, at) values (?, ?, ?, ?, ?)", [
      randomUUID(),
      launchId,
      personId,
      partner.id,
      now,
    ]);
  });
};
