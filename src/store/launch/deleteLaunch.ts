import type { EntityManager } from "../orm";

/** What hangs on a launch, each as whether there is any. */
export interface LaunchTraces {
  people: boolean;
  orders: boolean;
  published: boolean;
  listings: boolean;
  emails: boolean;
  partners: boolean;
}

/** What a launch has left behind, test orders among it. */
export const launchTraces = async (em: EntityManager, launchId: string): Promise<LaunchTraces> => {
  const [row] = await em.execute<LaunchTraces[]>(
    `with this as (select ?::uuid as id)
     select exists (select from event e, this where e.launch_id = this.id) or exists (select from stage_rollup r, this where r.launch_id = this.id)
         or exists (select from page_rollup r, this where r.launch_id = this.id) or exists (select from opt_in o, this where o.launch_id = this.id)
         or exists (select from clock_start c, this where c.launch_id = this.id) or exists (select from clock_stop c, this where this.id in (c.launch_id, c.handed_to))
         or exists (select from touch t, this where t.launch_id = this.id) or exists (select from page_comment c, this where c.launch_id = this.id)
         or exists (select from visitor_coupon v, this where v.launch_id = this.id) or exists (select from launch_opt_out x, this where x.launch_id = this.id)
         or exists (select from sequence_person q, this where q.launch_id = this.id) or exists (select from person_notice n, this where n.launch_id = this.id) as people,
       exists (select from checkout k, this where k.launch_id = this.id) or exists (select from sale_order s, this where s.launch_id = this.id) as orders,
       exists (select from page p, this where p.launch_id = this.id and (p.published is not null or p.published_at is not null)) as published,
       exists (select from listing l, this where l.launch_id = this.id and l.state <> 'draft') as listings,
       exists (select from email_message m, this where m.launch_id = this.id) as emails,
       exists (select from partner_application a, this where a.launch_id = this.id) or exists (select from partner_word w, this where w.launch_id = this.id) as partners`,
    [launchId],
  );
  return row!;
};

/** Deletes a launch that has left nothing behind, with all its own rows. A row that hangs on it all the same is an error of the database. */
export const deleteLaunchRows = async (em: EntityManager, launchId: string): Promise<void> => {
  await em.execute("delete from outbox where payload->>'id' in (select id::text from bell_run where launch_id = ? union all select ?)", [
    launchId,
    launchId,
  ]);
  for (const table of [
    "bell_run",
    "launch_change",
    "one_off_email",
    "launch_email",
    "launch_sequence",
    "path_step",
    "path_version",
    "page_address",
    "listing",
    "seats_taken",
    "hour_count",
    "page_count",
    "page",
    "webhook_endpoint",
  ])
    await em.execute(`delete from ${table} where launch_id = ?`, [launchId]);
  await em.execute("delete from launch where id = ?", [launchId]);
};
