import { Migration } from "@mikro-orm/migrations";

/** Emails that follow a person's own moments: since when a sequence runs, how far it has looked, and whose moment it counts from. */
export class Migration0037Sequences extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table launch_sequence (
  launch_id uuid not null references launch,
  key text not null,
  since timestamptz not null,
  looked_at timestamptz not null,
  -- The version of the launch's settings whose steps are queued.
  version integer not null,
  primary key (launch_id, key)
);
create table sequence_person (
  launch_id uuid not null,
  key text not null,
  contact_id uuid not null references contact,
  moment timestamptz not null,
  primary key (launch_id, key, contact_id),
  foreign key (launch_id, key) references launch_sequence on delete cascade
);
create index on sequence_person (contact_id);

update launch set settings = settings || '{"sequences":[]}' where not settings ? 'sequences';
update launch_change set before = before || '{"sequences":[]}' where not before ? 'sequences';

drop index email_to_send;
alter table email_message drop column bulk, drop constraint email_message_kind_check;
alter table email_message add check (kind in ('confirm', 'welcome', 'receipt', 'recovery', 'bell', 'step', 'library')),
  add column bulk boolean not null generated always as (kind in ('bell', 'step', 'recovery')) stored;
create index email_to_send on email_message (bulk, due_at) where state = 'due';
    `);
  }
}
