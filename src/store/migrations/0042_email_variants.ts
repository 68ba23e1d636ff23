import { Migration } from "@mikro-orm/migrations";

/** Second variants of emails, tested beside the first: how many of their readers get which, and who got which. */
export class Migration0042EmailVariants extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table launch_email add column weight integer not null default 1 check (weight between 0 and 100);
alter table email_message add column variant text check (variant in ('A', 'B'));
    `);
  }
}
