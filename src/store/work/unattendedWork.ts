import type { WorkTopic } from "../../core/work";
import type { EntityManager } from "../orm";

export interface UnattendedWork {
  topic: WorkTopic;
  id: string;
  key: string;
}

/**
 * Work that should be under way and is not: each row that says that something must still happen, two minutes after it
 * should have been taken up, with nothing in the outbox and no living job for it.
 */
export const unattendedWork = (em: EntityManager, now: Date): Promise<UnattendedWork[]> =>
  em.execute(
    `with wanted as (
       select 'settle_charge' as topic, id, 'settle:' || id as key from charge where state in ('pending', 'challenge') and created_at < ?::timestamptz
       union all select 'settle_refund', id, 'refund:' || id from refund where state = 'pending' and asked_at < ?
       union all select 'capture_payment', id, 'take:' || id from charge where state = 'authorized' and capture_asked_at < ?
       union all select 'charge_recurring_payment', id, 'payment:' || id from recurring_payment where state in ('active', 'late') and next_at < ?
       union all select 'queue_emails', id, 'emails:' || id from bell_run where queued_at is null and ran_at < ?
       union all select 'queue_one_off', id, 'one_off:' || id from one_off_email where state in ('scheduled', 'sending') and queued_at is null and begins_at < ?
       union all select 'welcome_partner', id, 'partner:' || id from partner_application where state = 'taken' and welcomed_at is null and decided_at < ?
       union all select 'import_people', id, 'people:' || id from people_import where state in ('checking', 'running') and asked_at < ?
       union all select 'run_bells', id, 'bells:' || id from launch where bells_until < ?
     ) select topic, id, key from wanted w
     where not exists (select from outbox o where o.key = w.key)
       and not exists (select from pgboss.job j where j.name = w.topic and coalesce(j.data->'payload'->>'id', j.data->>'id') = w.id::text and j.state < 'completed')
     limit 500`,
    Array.from({ length: 9 }, () => new Date(now.getTime() - 120_000)),
  );
