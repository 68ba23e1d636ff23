import { Migration } from "@mikro-orm/migrations";

/** The vendor, its team and their sessions: kept here and changed at the desk. */
export class Migration0018Settings extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table vendor (
  singleton boolean primary key default true check (singleton),
  version integer not null default 1,
  name text not null,
  postal_address text not null default '',
  country text not null check (country ~ '^[A-Z]{2}$'),
  tax_numbers jsonb not null default '[]',
  sender_name text not null default '',
  sender_email text not null default '',
  locale text not null default 'en-IE'
);
alter table desk_user add column ended_at timestamptz;
alter table session add column id uuid not null default gen_random_uuid();
alter table session add column device text not null default '';
alter table session add column seen_at timestamptz;
update session set seen_at = created_at;
alter table session alter column seen_at set not null;
create unique index session_id on session (id);
create index session_of on session (kind, subject_id);
create table invitation (
  id uuid primary key,
  email text not null,
  role text not null,
  invited_by uuid not null references desk_user (id),
  at timestamptz not null,
  expires_at timestamptz not null,
  ended_at timestamptz
);
-- Whoever is invited has one invitation that holds; a newer one ends it.
create unique index invitation_open on invitation (email) where ended_at is null;
create table way_in (
  singleton boolean primary key default true check (singleton),
  hash text not null,
  expires_at timestamptz not null
);
    `);
  }
}
