import { addTouch, cameSince } from "../../store/partners/touches";
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
    if (await cameSince(tx, personId, launchId, partner.id, new Date(now.getTime() - 60_000))) return;
    const { page, source, subIds } = click;
    await addTouch(tx, { id: randomUUID(), launchId, partnerId: partner.id, at: now, page, source, subIds, visitorId }, personId);
  });
};
