import { Migration } from "@mikro-orm/migrations";

/** Emails are claimed, sent outside any transaction, and confirmed; what waits to be done says how often it was tried and why it failed. */
export class Migration0015Sending extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
-- Processes that work in the background. One that has not beaten for a while is gone; what it had in hand is taken up again.
create table worker (id uuid primary key, started_at timestamptz not null default now(), beat_at timestamptz not null default now());

alter table email_message
  -- Mail to many. Mail to one person goes by a lane of its own.
  add column bulk boolean not null generated always as (kind in ('letter', 'recovery')) stored,
  add column tries int not null default 0,
  add column failed_because text,
  -- The worker that has it in hand, and since when its content has been on its way.
  add column taken_by uuid, add column handed_at timestamptz,
  drop constraint email_message_state_check,
  -- Unknown: the connection ended after the content was handed over and before the server's word. Mail to many is not sent again then.
  add check (state in ('due', 'sending', 'sent', 'stopped', 'unknown')),
  add check ((state = 'sending') = (taken_by is not null));
create index email_to_send on email_message (bulk, due_at) where state = 'due';
create index email_in_hand on email_message (taken_by) where state = 'sending';
create index on email_message (contact_id);
create index email_of_letter on email_message (launch_id, (data->>'letter'), state) where kind = 'letter';
-- Emails are found in their own table from now on.
delete from outbox where topic = 'send_email';

alter table outbox add column tries int not null default 0, add column failed_because text, add column first_due_at timestamptz;
-- The desk has pressed: it is taken until it is, or the bank has let go of it.
alter table charge add column capture_asked_at timestamptz;
-- How far a letter of this bell has been queued: contacts in the order of their ids.
alter table bell_rung add column queued int not null default 0, add column queued_after uuid, add column queued_at timestamptz;
update bell_rung set queued_at = rung_at;

-- An address whose inbox somebody has opened. Others are not greeted by a name that a stranger may have typed.
alter table contact add column proven_at timestamptz;
update contact set proven_at = coalesce(consent_at, created_at);
    `);
  }
}
