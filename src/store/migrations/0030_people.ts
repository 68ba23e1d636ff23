import { Migration } from "@mikro-orm/migrations";

/** What is known of one person is found by who they are, and everybody with an address is listed by when they came. */
export class Migration0030People extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create index contact_newest on contact (created_at, id) where not test;
create index contact_last_name on contact using gin (lower(last_name) gin_trgm_ops);
create index checkout_of_contact on checkout (contact_id) where contact_id is not null;
create index clock_stop_of_person on clock_stop (person_id);
create index comment_of_person on page_comment (person_id);
create index on stage_rollup (person_id);
    `);
  }
}
