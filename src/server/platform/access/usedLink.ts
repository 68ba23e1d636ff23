import { createHash } from "node:crypto";
import type { EntityManager } from "../../../store/orm";

/** Uses up a link that holds once, in the current transaction. Answers whether it was unused. */
export const useUp = async (em: EntityManager, token: string, now: Date, days: number): Promise<boolean> => {
  const hash = createHash("sha256").update(token).digest("hex");
  const rows = await em.execute<object[]>("insert into used_link (hash, used_at, expires_at) values (?, ?, ?) on conflict do nothing returning 1", [
    hash,
    now,
    new Date(now.getTime() + days * 86_400_000),
  ]);
  return rows.length > 0;
};
