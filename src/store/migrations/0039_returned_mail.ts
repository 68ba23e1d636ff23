import { Migration } from "@mikro-orm/migrations";

/** What comes back of emails: bounces and complaints, and the addresses that get no more for it; fewer emails for who asks for it; keys that sign emails. */
export class Migration0039ReturnedMail extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table email_message
  add column bounce text check (bounce in ('hard', 'soft')),
  add column bounced_at timestamptz,
  add column complained_at timestamptz,
  -- In the words of the server that sent it back.
  add column return_says text;
create index email_bounced on email_message (contact_id, bounced_at) where bounced_at is not null;

alter table contact
  add column suppressed_at timestamptz,
  add column suppressed_because text check (suppressed_because in ('bounced', 'complained')),
  add column fewer_since timestamptz,
  add check ((suppressed_at is null) = (suppressed_because is null));

create table dkim_key (
  selector text primary key,
  domain text not null,
  -- Sealed with the installation's secret.
  private_key text not null,
  -- As the DNS record has it: base64 of the SubjectPublicKeyInfo (RFC 6376 §3.6.1).
  public_key text not null,
  made_at timestamptz not null,
  used_since timestamptz,
  ended_at timestamptz
);
create unique index dkim_key_in_use on dkim_key (domain) where used_since is not null and ended_at is null;
    `);
  }
}
