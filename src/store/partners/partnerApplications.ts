import type { EntityManager } from "../orm";

export interface PartnerApplication {
  id: string;
  name: string;
  email: string;
  words: string;
  launch: string;
  at: Date;
}

/** Who waits for an answer to their application to become a partner, the oldest first. */
export const partnerApplications = async (em: EntityManager): Promise<PartnerApplication[]> => {
  const rows = await em.execute<(Omit<PartnerApplication, "at"> & { at: string })[]>(
    `select a.id, a.name, a.email, a.words, l.name as launch, a.at from partner_application a join launch l on l.id = a.launch_id
     where a.state = 'waiting' order by a.at limit 200`,
  );
  return rows.map((row) => ({ ...row, at: new Date(row.at) }));
};

/** What the pages of a launch say in its partners' names, by partner. */
export const partnerWords = async (
  em: EntityManager,
  launchId: string,
): Promise<Record<string, { name: string; note: string; media: string | null }>> => {
  const rows = await em.execute<{ partner_id: string; name: string; note: string; media_id: string | null }[]>(
    "select partner_id, name, note, media_id from partner_word where launch_id = ?",
    [launchId],
  );
  return Object.fromEntries(rows.map((row) => [row.partner_id, { name: row.name, note: row.note, media: row.media_id }]));
};

/** The partners whose endorsement may be written: these, and all who have one in the launch. */
export const endorsers = (em: EntityManager, launchId: string, ids: readonly string[]): Promise<{ id: string; name: string; code: string }[]> =>
  em.execute(
    `select id, name, code from partner where id = any(?::uuid[]) or id in (select partner_id from partner_word where launch_id = ?)
     order by array_position(?::uuid[], id), name`,
    [`{${ids.join(",")}}`, launchId, `{${ids.join(",")}}`],
  );
