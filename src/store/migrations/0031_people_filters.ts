import { Migration } from "@mikro-orm/migrations";

/** Conditions that people are found by again: each under a name of its own. */
export class Migration0031PeopleFilters extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table people_filter (
  id uuid primary key,
  name text not null check (name <> ''),
  condition jsonb not null,
  created_at timestamptz not null
);
create unique index people_filter_name on people_filter (lower(name));
    `);
  }
}
