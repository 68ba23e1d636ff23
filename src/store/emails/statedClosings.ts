import type { ToldOther } from "../../core/conditions";
import type { EntityManager } from "../orm";

/** What closings people were last told of a launch, other than the one that holds: how many, and how many of them may be written to. The most first. */
export const otherClosings = async (
  em: EntityManager,
  { launch, than, after }: ToldOther,
  now: Date,
): Promise<{ closing: Date; people: number; mayWrite: number }[]> => {
  const rows = await em.execute<{ stated_closing: string; people: string; may_write: string }[]>(
    `select s.stated_closing, count(*) as people,
       count(*) filter (where c.consent_at is not null and c.unsubscribed_at is null and c.suppressed_at is null and not exists (select from launch_opt_out o where o.contact_id = c.id and o.launch_id = ?)) as may_write
     from (select distinct on (contact_id) contact_id, stated_closing from email_message
       where launch_id = ? and stated_closing is not null and state = 'sent' and sent_at <= ? order by contact_id, sent_at desc) s
     join contact c on c.id = s.contact_id and not c.test and c.erased_at is null where s.stated_closing > ? and s.stated_closing <> ? group by 1 order by 2 desc`,
    [launch, launch, now, after, than],
  );
  return rows.map(({ stated_closing, people, may_write }) => ({
    closing: new Date(stated_closing),
    people: Number(people),
    mayWrite: Number(may_write),
  }));
};
