import type { EntityManager } from "../orm";
import type { Touch } from "./tables";

/** Whether a person came by a partner's link to a launch since an instant. */
export const cameSince = async (em: EntityManager, personId: string, launchId: string, partnerId: string, since: Date): Promise<boolean> => {
  const rows = await em.execute<object[]>(
    "select 1 from touch_person tp join touch t on t.id = tp.touch_id where tp.person_id = ? and t.launch_id = ? and t.partner_id = ? and t.at > ?",
    [personId, launchId, partnerId, since],
  );
  return rows.length > 0;
};

/** Writes a click on a partner's link down, for the person it counts for. */
export const addTouch = async (
  em: EntityManager,
  { id, launchId, partnerId, at, page, source, subIds, visitorId }: Touch,
  personId: string,
): Promise<void> => {
  await em.execute(
    `with touched as (insert into touch (id, launch_id, partner_id, at, page, source, sub_ids, visitor_id)
       values (?, ?, ?, ?, ?, ?, (select array_agg(s order by n) from jsonb_array_elements_text(?::jsonb) with ordinality as e(s, n)), ?) returning id)
     insert into touch_person (touch_id, person_id) select id, ? from touched`,
    [id, launchId, partnerId, at, page ?? null, source ?? null, JSON.stringify(subIds ?? []), visitorId ?? null, personId],
  );
};

/** The clicks on partners' links that count for a visitor of a launch. */
export const touchesOfVisitor = async (
  em: EntityManager,
  visitorId: string,
  launchId: string,
): Promise<{ id: string; partnerId: string; at: Date }[]> => {
  const rows = await em.execute<{ id: string; partner_id: string; at: string }[]>(
    "select t.id, t.partner_id, t.at from visitor v join touch_person tp on tp.person_id = v.person_id join touch t on t.id = tp.touch_id where v.id = ? and t.launch_id = ?",
    [visitorId, launchId],
  );
  return rows.map((row) => ({ id: row.id, partnerId: row.partner_id, at: new Date(row.at) }));
};
