import { Migration } from "@mikro-orm/migrations";

/** Events keep their visitor, so that it can be seen later whom a merge brought together, and the data of their kind. */
export class Migration0023EventData extends Migration {
  override up(): void {
    this.addSql("alter table event add column visitor_id uuid, add column data jsonb not null default '{}'");
  }
}
