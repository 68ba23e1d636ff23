import { Migration } from "@mikro-orm/migrations";

/** A click through a partner's link is one row for good, whoever its people turn out to be; links that hold once; versions of products. */
export class Migration0016Identity extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table touch_person (touch_id uuid not null references touch on delete cascade, person_id uuid not null references person, primary key (person_id, touch_id));
create index on touch_person (touch_id);
-- Copies of one click, made whenever a shared browser changed hands, are that click again.
insert into touch_person (touch_id, person_id)
select k.id, t.person_id from touch t join (select launch_id, partner_id, at, (array_agg(id order by id))[1] as id from touch group by 1, 2, 3) k using (launch_id, partner_id, at)
on conflict do nothing;
delete from touch t where not exists (select from touch_person p where p.touch_id = t.id);
alter table touch drop column person_id,
  -- Where it led, where its visitor came from, and what else the partner's link said.
  add column page text, add column source text, add column sub_ids text[] check (cardinality(sub_ids) <= 5), add column visitor_id uuid;

create table used_link (hash text primary key, used_at timestamptz not null, expires_at timestamptz not null);
alter table product add column version int not null default 1;
create index on order_line (order_id);
create index orders_newest on sale_order (placed_at desc, number desc);
create index on sale_order (partner_id) where partner_id is not null;
create index on stage_rollup (partner_id) where partner_id is not null;
create index on commission (partner_id, held_until);
    `);
  }
}
