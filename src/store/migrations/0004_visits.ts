import { Migration } from "@mikro-orm/migrations";

/** Who saw which page, in which version of it; addresses that pages had before; opt-ins that wait for a confirmation. */
export class Migration0004Visits extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
-- One row of each person and page: the first time they saw it, in which version, and the first time they opted in there.
create table page_rollup (
  launch_id uuid not null, page text not null, person_id uuid not null, variant text not null default 'A',
  seen_at timestamptz not null, acted_at timestamptz, primary key (launch_id, page, person_id)
);
create index on page_rollup (person_id);
insert into page_rollup (launch_id, page, person_id, seen_at, acted_at)
  select launch_id, page, person_id, min(at), min(at) filter (where kind = 'opted_in') from event where page is not null group by 1, 2, 3;

alter table page add column variant_of uuid references page on delete cascade, add column weight int not null default 1 check (weight between 0 and 1000);
create table page_address (
  launch_id uuid not null references launch, slug text not null, page_id uuid not null references page on delete cascade, left_at timestamptz not null,
  primary key (launch_id, slug)
);

alter table contact add column last_name text not null default '', add column phone text, add column answers jsonb not null default '{}';
-- What a form was sent with. A confirmed address counts from confirmed_at; one that needs no confirmation is confirmed at once.
create table opt_in (
  id uuid primary key, launch_id uuid not null references launch, contact_id uuid not null references contact, page text not null, form text not null,
  visitor_id uuid not null, country char(2), consent_text text not null, asked_at timestamptz not null, confirmed_at timestamptz
);
create index on opt_in (contact_id, launch_id);
alter table email_message drop constraint email_message_kind_check;
alter table email_message add check (kind in ('welcome', 'receipt', 'recovery', 'letter', 'confirm'));
    `);
  }
}
