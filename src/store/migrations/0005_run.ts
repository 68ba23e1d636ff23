import { Migration } from "@mikro-orm/migrations";

/** The run of episodes, what was watched of their films and said below them; charges of several lines, for bumps. */
export class Migration0005Run extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
update launch set settings = settings || '{"episodes":[]}' where settings->'episodes' is null;
update launch_change set before = before || '{"episodes":[]}' where before->'episodes' is null;

-- The most that a person has watched of a film, in quarters of its length.
create table film_rollup (
  launch_id uuid not null, page text not null, film text not null, person_id uuid not null, quarters smallint not null check (quarters between 1 and 4),
  at timestamptz not null, primary key (launch_id, page, film, person_id)
);
create index on film_rollup (person_id);

create table page_comment (
  id uuid primary key, launch_id uuid not null references launch, page text not null, person_id uuid not null references person, name text not null,
  body text not null, at timestamptz not null, state text not null default 'waiting' check (state in ('waiting', 'shown', 'hidden')),
  decided_at timestamptz, decided_by uuid references desk_user, reply text not null default '', replied_at timestamptz,
  check ((state = 'waiting') = (decided_at is null))
);
create index on page_comment (launch_id, state, at);
create index on page_comment (person_id);

-- Who asked to become a partner. One application of an address waits at a time.
create table partner_application (
  id uuid primary key, launch_id uuid not null references launch, email text not null check (email = lower(trim(email))), name text not null,
  words text not null, at timestamptz not null, state text not null default 'waiting' check (state in ('waiting', 'taken', 'declined')),
  decided_at timestamptz, decided_by uuid references desk_user, partner_id uuid references partner, welcomed_at timestamptz,
  check ((state = 'waiting') = (decided_at is null)), check ((state = 'taken') = (partner_id is not null))
);
create unique index on partner_application (email) where state = 'waiting';
-- What the pages of a launch say in a partner's name to people who come by their link.
create table partner_word (
  launch_id uuid not null references launch, partner_id uuid not null references partner, name text not null, note text not null,
  media_id uuid references media on delete set null, at timestamptz not null, primary key (launch_id, partner_id)
);

-- What a charge is for, line by line; its amount is their sum.
alter table charge add column items jsonb;
update charge set items = jsonb_build_array(jsonb_build_object('productId', product_id, 'role', case when step_id is null then 'front' else 'offer' end,
  'gross', amount_minor, 'tax', tax_minor, 'rateBp', rate_bp));
alter table charge alter column items set not null, drop column product_id, drop column tax_minor, drop column rate_bp;
alter table order_line drop constraint order_line_charge_id_key, drop constraint order_line_role_check;
alter table order_line add check (role in ('front', 'bump', 'offer'));
drop index order_line_order_id_coalesce_idx;
-- A product stands once in a step of an order, and once in a charge: what is applied twice books once.
create unique index on order_line (order_id, coalesce(step_id, '00000000-0000-0000-0000-000000000000'), product_id);
create unique index on order_line (charge_id, product_id);
-- The bumps that are ticked.
alter table checkout add column bumps uuid[] not null default '{}';
    `);
  }
}
