import { Migration } from "@mikro-orm/migrations";

/** Emails that go once, to those who meet a condition. */
export class Migration0041OneOffEmails extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table one_off_email (
  id uuid primary key,
  launch_id uuid not null references launch,
  -- Whom it goes to; everybody who may be written to, where it is null.
  condition jsonb,
  -- When it goes, as it was typed: at once, or at a wall time of the launch's zone, or of each reader's own.
  wall text,
  by_zone boolean not null default false,
  -- The instant at which it goes, from when on it was said that it does; null where that is each reader's own.
  at timestamptz,
  -- When it begins: to whoever's zone comes first.
  begins_at timestamptz,
  state text not null default 'draft' check (state in ('draft', 'scheduled', 'sending', 'paused', 'cancelled')),
  -- How many it was queued for, and the last contact of the slice that was queued last.
  queued integer not null default 0,
  queued_after uuid,
  started_at timestamptz,
  -- From when on nobody is left to queue it for.
  queued_at timestamptz,
  created_at timestamptz not null,
  version integer not null default 1,
  check (state = 'draft' or begins_at is not null),
  check (not by_zone or state = 'draft' or wall is not null)
);
create index on one_off_email (launch_id);

drop index email_to_send;
drop index email_bulk_sent;
alter table email_message drop column bulk, drop constraint email_message_kind_check;
alter table email_message add check (kind in ('confirm', 'welcome', 'receipt', 'recovery', 'bell', 'step', 'once', 'library')),
  add column bulk boolean not null generated always as (kind in ('bell', 'step', 'once', 'recovery')) stored;
create index email_to_send on email_message (bulk, due_at) where state = 'due';
create index email_bulk_sent on email_message (sent_at) where bulk and sent_at is not null;
    `);
  }
}
