import { Migration } from "@mikro-orm/migrations";

/** Events keep their visitor, so that it can be seen later whom a merge brought together, and the data of their kind. */
export class Migration0023EventData extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table event add column visitor_id uuid, add column data jsonb not null default '{}';
-- How much was watched was the kind; of which film was not kept with it.
update event set kind = 'watched', data = jsonb_build_object('film', '', 'quarters', substr(kind, 9)::int / 25) where kind like 'watched\\_%';
    `);
  }
}
