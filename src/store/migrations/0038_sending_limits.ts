import { Migration } from "@mikro-orm/migrations";

/** Quiet hours and caps of mail to many; emails on bells at a time of day; last calls, which are queued ahead and keep their place under the cap. */
export class Migration0038SendingLimits extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table sending_setting (
  singleton boolean primary key default true check (singleton),
  version integer not null,
  limits jsonb not null
);

alter table email_message add column last_call boolean not null default false;
create index email_last_call on email_message (contact_id, due_at) where last_call and state = 'due';
create index email_bulk_sent on email_message (sent_at) where bulk and sent_at is not null;

update launch set settings = jsonb_set(settings, '{emails}', (select coalesce(jsonb_agg(e || '{"time":null}'), '[]') from jsonb_array_elements(settings->'emails') e));
update launch_change set before = jsonb_set(before, '{emails}', (select coalesce(jsonb_agg(e || '{"time":null}'), '[]') from jsonb_array_elements(before->'emails') e))
  where before ? 'emails';
    `);
  }
}
