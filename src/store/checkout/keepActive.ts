import { instants, uuids } from "../events/batch";
import type { EntityManager } from "../orm";

/** When a visitor last looked at the checkout of a launch. */
export interface CheckoutLook {
  launchId: string;
  visitorId: string;
  at: Date;
}

/**
 * Notes that open checkouts were looked at: the email to a lost buyer waits from then. A checkout that somebody else holds at
 * this moment is being pressed, and passed over: so nobody waits for anybody.
 */
export const keepActive = async (em: EntityManager, looks: readonly CheckoutLook[]): Promise<void> => {
  await em.execute(
    `with seen as (
       select k.id, v.at from unnest(?::uuid[], ?::uuid[], ?::timestamptz[]) as v(launch_id, visitor_id, at)
       join checkout k on k.visitor_id = v.visitor_id and k.launch_id = v.launch_id
       where k.paid_at is null and k.contact_id is not null and not k.test and k.last_activity_at < v.at for update of k skip locked
     ), last as (select id, max(at) as at from seen group by 1)
     update checkout k set last_activity_at = l.at from last l where k.id = l.id`,
    [uuids(looks.map(({ launchId }) => launchId)), uuids(looks.map(({ visitorId }) => visitorId)), instants(looks.map(({ at }) => at))],
  );
};
