import { Migration } from "@mikro-orm/migrations";

/**
 * What the vendor's own fields are, and rules that tag, fill and stop emails by what people did; whom a rule has dealt with, so that it never does
 * so twice. Zone and language of a person, guessed from a form's browser, or corrected. Who gets no emails of one launch.
 */
export class Migration0035PeopleRules extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table contact add column zone text, add column guessed_zone text, add column language text, add column guessed_language text;
create table person_field (
  name text primary key,
  kind text not null check (kind in ('text', 'choice', 'tick')),
  choices jsonb not null default '[]',
  created_at timestamptz not null
);
create table people_rule (
  id uuid primary key,
  condition jsonb not null,
  action jsonb not null,
  created_at timestamptz not null,
  looked_at timestamptz not null,
  everybody_at timestamptz not null
);
create table people_rule_person (
  rule_id uuid not null references people_rule on delete cascade,
  person_id uuid not null references person,
  at timestamptz not null,
  -- False for those who met the condition before the rule was made, and are left as they are.
  applied boolean not null,
  primary key (rule_id, person_id)
);
create index on people_rule_person (person_id);
create table launch_opt_out (
  contact_id uuid not null references contact,
  launch_id uuid not null references launch,
  at timestamptz not null,
  -- Whose doing it is: a rule's, the desk's, or the reader's own.
  made_by text not null check (made_by in ('rule', 'desk', 'reader')),
  primary key (contact_id, launch_id)
);
create index on launch_opt_out (launch_id);
create index on person_tag (at);
    `);
  }
}
