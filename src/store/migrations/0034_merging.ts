import { Migration } from "@mikro-orm/migrations";

/** Two records of one person: the later one's row keeps its address and says whose it is; all else is the earlier one's. */
export class Migration0034Merging extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table contact add column merged_into uuid references contact, add check (merged_into <> id);
create index contact_merged_into on contact (merged_into) where merged_into is not null;
    `);
  }
}
