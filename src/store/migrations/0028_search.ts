import { Migration } from "@mikro-orm/migrations";

/**
 * Names and addresses are found by any part of them without reading them all: by the groups of three letters that they hold (`pg_trgm`, which comes
 * with PostgreSQL and which the owner of a database may add). What somebody did of one kind lies together, whatever the page and day.
 */
export class Migration0028Search extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create extension if not exists pg_trgm;
create index contact_search on contact using gin (email gin_trgm_ops, lower(first_name) gin_trgm_ops);
create index order_line_search on order_line using gin (lower(name) gin_trgm_ops);
alter table day_rollup drop constraint day_rollup_pkey, add primary key (launch_id, kind, person_id, page, day);
    `);
  }
}
