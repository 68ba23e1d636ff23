import { Migration } from "@mikro-orm/migrations";

/**
 * People who come in a file: its lines stand in parts, which are worked through one after the other, each in a transaction that counts it.
 * What a line did to somebody is kept, with the consent that it stated, as proof.
 */
export class Migration0032PeopleImport extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table people_import (
  id uuid primary key,
  file_name text not null,
  user_id uuid not null references desk_user,
  created_at timestamptz not null,
  titles jsonb not null,
  encoding text not null,
  lines int not null check (lines > 0),
  choices jsonb,
  state text not null default 'read' check (state in ('read', 'checking', 'checked', 'running', 'done', 'cancelled')),
  next_part int not null default 0,
  counts jsonb not null default '{}',
  refused jsonb not null default '[]',
  asked_at timestamptz,
  finished_at timestamptz,
  check ((choices is null) = (state = 'read' and asked_at is null))
);
create index on people_import (created_at);
create table people_import_part (
  import_id uuid not null references people_import on delete cascade,
  n int not null,
  lines jsonb not null,
  primary key (import_id, n)
);
create table people_import_contact (
  import_id uuid not null references people_import,
  contact_id uuid not null references contact,
  line int not null,
  at timestamptz not null,
  consent_words text,
  consent_at timestamptz,
  check ((consent_words is null) = (consent_at is null)),
  primary key (import_id, contact_id)
);
create index on people_import_contact (contact_id);
    `);
  }
}
