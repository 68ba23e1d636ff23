import { variantKey, type EmailContent } from "../../core/emails";
import type { EntityManager } from "../orm";

/** Adds the second variant of an email, with this draft; both go to as many. Answers whether there was none yet. An email that the vendor has written nothing of gets its row with it. */
export const addEmailVariant = async (tx: EntityManager, launchId: string, key: string, draft: EmailContent): Promise<boolean> => {
  const json = JSON.stringify(draft);
  await tx.execute("insert into launch_email (launch_id, key, version, draft) values (?, ?, 1, ?::jsonb) on conflict do nothing", [
    launchId,
    key,
    json,
  ]);
  const added = await tx.execute<object[]>(
    "insert into launch_email (launch_id, key, version, draft) values (?, ?, 1, ?::jsonb) on conflict do nothing returning 1",
    [launchId, variantKey(key), json],
  );
  await weighEmailVariants(tx, launchId, key, 50);
  return added.length > 0;
};

/** Removes the second variant of an email. */
export const removeEmailVariant = async (tx: EntityManager, launchId: string, key: string): Promise<void> => {
  await tx.execute("delete from launch_email where launch_id = ? and key = ?", [launchId, variantKey(key)]);
};

/** Divides the readers of an email between its variants: so many in a hundred get the second. */
export const weighEmailVariants = async (tx: EntityManager, launchId: string, key: string, second: number): Promise<void> => {
  await tx.execute(
    "update launch_email set weight = case when key = ? then 100 - ?::integer else ?::integer end where launch_id = ? and key in (?, ?)",
    [key, second, second, launchId, key, variantKey(key)],
  );
};
