import { Migration } from "@mikro-orm/migrations";

/** Emails that are kept as templates, for every launch. */
export class Migration0044EmailTemplates extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table email_template (
  id uuid primary key,
  name text not null unique,
  content jsonb not null,
  created_at timestamptz not null,
  user_id uuid references desk_user
);
    `);
  }
}
