import { emailKindNames, hungKinds, variantKey, type EmailContent } from "../../core/emails";
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
    `insert into launch_email (launch_id, key, version, draft, published, published_at, weight)
     select ?, key, 1, draft, published, published_at, weight from launch_email e where launch_id = ? and not exists (select from one_off_email o where o.id::text = split_part(e.key, '~', 1))`,
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

/** Every email of a launch, or of all of them, with what is in its subject: those on bells, in sequences, and what each person gets who asks for it. */
export const nameableEmails = async (em: EntityManager, launchId?: string): Promise<{ launchId: string; key: string; subject: string | null }[]> => {
  const advertised = emailKindNames.filter((kind) => !(hungKinds as readonly string[]).includes(kind));
  const rows = await em.execute<{ launch_id: string; key: string; subject: string | null }[]>(
    `select k.launch_id, k.key, coalesce(e.published, e.draft)->>'subject' as subject from (
       select l.id as launch_id, l.created_at, x.key, x.n from launch l cross join lateral (
         select b->>'id' as key, n from jsonb_array_elements(l.settings->'emails') with ordinality as b(b, n)
         union all select s->>'id', 100 * q.n + t.n from jsonb_array_elements(l.settings->'sequences') with ordinality as q(q, n) cross join jsonb_array_elements(q.q->'steps') with ordinality as t(s, n)
         union all select o.id::text, 5000 + extract(epoch from o.created_at) / 1e9 from one_off_email o where o.launch_id = l.id
         union all select k, 10000 + n from unnest(?::text[]) with ordinality as u(k, n)
       ) x ${launchId === undefined ? "" : "where l.id = ?"}
     ) k left join launch_email e on e.launch_id = k.launch_id and e.key = k.key order by k.created_at, k.launch_id, k.n`,
    [`{${advertised.join(",")}}`, ...(launchId === undefined ? [] : [launchId])],
  );
  return rows.map(({ launch_id, key, subject }) => ({ launchId: launch_id, key, subject }));
};

/** Forgets what an email says, its second variant as well. */
export const forgetEmail = async (tx: EntityManager, launchId: string, key: string): Promise<void> => {
  await tx.execute("delete from launch_email where launch_id = ? and key in (?, ?)", [launchId, key, variantKey(key)]);
};
