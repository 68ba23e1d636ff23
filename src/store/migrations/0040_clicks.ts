import { Migration } from "@mikro-orm/migrations";

/** That an email was opened, which of its links were followed, and who unsubscribed through it. */
export class Migration0040Clicks extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table email_message
  add column opened_at timestamptz,
  add column left_at timestamptz;
-- Emails of one setting are found by how their keys begin, which the order of a language does not help with.
alter table email_message drop constraint email_message_key_key;
create unique index email_message_key on email_message (key text_pattern_ops);

create table email_click (
  id uuid primary key,
  email_id uuid not null references email_message on delete cascade,
  -- Where it leads, in a few words.
  link text not null,
  at timestamptz not null,
  -- From when it counts as a person's: its page was seen, or it leads elsewhere, and other links were not followed at once.
  counts_at timestamptz,
  machine boolean not null default false
);
create index on email_click (email_id, at);
create index email_click_counts on email_click (counts_at) where counts_at is not null and not machine;
    `);
  }
}
