import { Migration } from "@mikro-orm/migrations";

/** Emails of a launch are called so everywhere: in its settings, in what hangs on its bells, and in what is queued and was sent. */
export class Migration0029Emails extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
update launch set settings = settings - 'letters' || jsonb_build_object('emails', settings->'letters') where settings ? 'letters';
update launch_change set before = before - 'letters' || jsonb_build_object('emails', before->'letters') where before ? 'letters';

alter table bell_run rename column letter_id to email_id;
update bell_run set key = 'email:' || substr(key, 8) where key like 'letter:%';
update outbox set key = 'emails:' || substr(key, 9) where topic = 'queue_emails' and key like 'letters:%';

-- Which emails are mail to many follows from their kind.
drop index email_of_letter;
alter table email_message drop column bulk, drop constraint email_message_kind_check;
update email_message set kind = 'bell', key = 'bell:' || substr(key, 8), data = data - 'letter' || jsonb_build_object('email', data->'letter') where kind = 'letter';
update email_message set stopped_because = 'email_withdrawn' where stopped_because = 'letter_withdrawn';
alter table email_message add check (kind in ('confirm', 'welcome', 'receipt', 'recovery', 'bell', 'library')),
  add column bulk boolean not null generated always as (kind in ('bell', 'recovery')) stored;
create index email_to_send on email_message (bulk, due_at) where state = 'due';
create index email_of_bell on email_message (launch_id, (data->>'email'), state) where kind = 'bell';
    `);
  }
}
