import { noLimits, type SendingLimits } from "../../core/emails";
import { SendingSetting } from "../tables";
import type { EntityManager } from "../orm";

/** How mail to many is held back, with its version; none before it was first set. */
export const sendingSetting = async (em: EntityManager): Promise<{ version: number; limits: SendingLimits }> => {
  const row = await em.findOne(SendingSetting, { singleton: true });
  return { version: row?.version ?? 0, limits: row?.limits ?? noLimits };
};

/** How mail to many is held back. */
export const sendingLimitsOf = async (em: EntityManager): Promise<SendingLimits> => (await sendingSetting(em)).limits;

/** Writes how mail to many is held back, over the version that was seen. Answers whether it was still that one. */
export const writeSendingLimits = async (tx: EntityManager, limits: SendingLimits, version: number): Promise<boolean> => {
  const rows = await tx.execute<object[]>(
    `insert into sending_setting (version, limits) select ?::integer + 1, ?::jsonb where ?::integer = 0 or exists (select from sending_setting)
     on conflict (singleton) do update set version = excluded.version, limits = excluded.limits where sending_setting.version = ? returning 1`,
    [version, JSON.stringify(limits), version, version],
  );
  return rows.length > 0;
};
