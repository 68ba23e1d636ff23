import { Migration } from "@mikro-orm/migrations";

/** What shows where a buyer is, and that a business accounts for the tax itself. */
export class Migration0007Tax extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table checkout add column vat_number text, add column browser_country char(2);
alter table sale_order add column vat_number text, add column reverse_charge boolean not null default false, add column evidence jsonb not null default '[]';
    `);
  }
}
