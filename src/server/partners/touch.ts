import { randomUUID } from "node:crypto";
import { Partner } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { personOf } from "../identity";

/** What a partner's link says beside its code. */
export interface ClickFacts {
  code: string;
  /** The page it led to, by its key. */
  page: string;
  /** Where the visitor came from, as the link says (`utm_source`). */
  source?: string;
  /** The partner's own marks, five at most (`sub1` to `sub5`). */
  subIds: string[];
}

/** What the query of an address says of a click; undefined where it names no partner. */
export const clickOf = (query: URLSearchParams, page: string): ClickFacts | undefined => {
  const code = query.get("p");
  if (!code) return undefined;
  const subIds = [1, 2, 3, 4, 5].map((n) => (query.get(`sub${n}`) ?? "").slice(0, 80));
  while (subIds.length > 0 && subIds.at(-1) === "") subIds.pop();
  return { code, page, source: query.get("utm_source")?.slice(0, 80), subIds };
};

/** Records a visit through a partner's link; an unknown code is no touch. The same link within a minute counts once. */
export const recordTouch = async (em: EntityManager, launchId: string, click: ClickFacts, visitorId: string, now: Date): Promise<void> => {
  const partner = await em.findOne(Partner, { code: click.code.toLowerCase() });
  if (!partner) return;
  await em.transactional(async (tx) => {
    const personId = await personOf(tx, visitorId, now);
    const recent = await tx.execute(
      "select 1 from touch_person tp join touch t on t.id = tp.touch_id where tp.person_id = ? and t.launch_id = ? and t.partner_id = ? and t.at > ?",
      [personId, launchId, partner.id, new Date(now.getTime() - 60_000)],
    );
    if (recent.length > 0) return;
    const id = randomUUID();
    await tx.execute(
      `with touched as (insert into touch (id, launch_id, partner_id, at, page, source, sub_ids, visitor_id)
         values (?, ?, ?, ?, ?, ?, (select array_agg(s order by n) from jsonb_array_elements_text(?::jsonb) with ordinality as e(s, n)), ?) returning id)
       insert into touch_person (touch_id, person_id) select id, ? from touched`,
      [id, launchId, partner.id, now, click.page, click.source ?? null, JSON.stringify(click.subIds), visitorId, personId],
    );
  });
};
