import type { EmailContent } from "../../core/emails";
import type { EntityManager } from "../orm";

/** Writes what emails of a launch say, as they are sent from now on, by their keys; those that it has stay as they are. */
export const writeEmails = async (
  em: EntityManager,
  launchId: string,
  contents: Readonly<Record<string, EmailContent>>,
  now: Date,
): Promise<void> => {
  const rows = Object.entries(contents).map(([key, content]) => ({ key, content }));
  if (rows.length === 0) return;
  await em.execute(
    `insert into launch_email (launch_id, key, version, draft, published, published_at)
     select ?, r.key, 1, r.content, r.content, ? from jsonb_to_recordset(?::jsonb) as r(key text, content jsonb) on conflict do nothing`,
    [launchId, now, JSON.stringify(rows)],
  );
};

/** Gives a launch the emails of another, as they stand there. */
export const copyEmails = async (em: EntityManager, { from, to }: { from: string; to: string }): Promise<void> => {
  await em.execute(
    `insert into launch_email (launch_id, key, version, draft, published, published_at)
     select ?, key, 1, draft, published, published_at from launch_email where launch_id = ?`,
    [to, from],
  );
};

/**
 * Keeps the draft of an email that was read at a version; at 0 it had none. Answers the new version, or undefined where
 * somebody else has saved it meanwhile.
 */
export const saveEmailDraft = async (
  em: EntityManager,
  launchId: string,
  key: string,
  draft: EmailContent,
  version: number,
): Promise<number | undefined> => {
  const [row] = await em.execute<{ version: number }[]>(
    version === 0
      ? "insert into launch_email (launch_id, key, draft, version) values (?, ?, ?::jsonb, 1) on conflict do nothing returning version"
      : "update launch_email set version = version + 1, draft = ?::jsonb where launch_id = ? and key = ? and version = ? returning version",
    version === 0 ? [launchId, key, JSON.stringify(draft)] : [JSON.stringify(draft), launchId, key, version],
  );
  return row?.version;
};

/** Makes a draft what is sent from now on, where it is still the version that was looked at. */
export const publishEmailDraft = async (em: EntityManager, launchId: string, key: string, version: number, now: Date): Promise<boolean> => {
  const rows = await em.execute<object[]>(
    "update launch_email set published = draft, published_at = ? where launch_id = ? and key = ? and version = ? returning 1",
    [now, launchId, key, version],
  );
  return rows.length > 0;
};
