import { Migration } from "@mikro-orm/migrations";

/** A bell that was run says which letter it sends and to which window it belongs, instead of naming both in its key. */
export class Migration0027Bells extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table bell_run add column letter_id text, add column opens timestamptz;
update bell_run set letter_id = substring(key from '^letter:([^@]+)'), opens = substring(key from '@(.+)$')::timestamptz;
    `);
  }
}
