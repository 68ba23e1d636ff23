import { Migration } from "@mikro-orm/migrations";

/** For how many days something is kept that is not kept for good, and from when on the log of events is whole. */
export class Migration0025Retention extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table retention (what text primary key check (what in ('log', 'visits', 'mail', 'notices', 'checkouts')), days int not null check (days > 0));
create table event_edge (singleton boolean primary key default true check (singleton), at timestamptz not null);
    `);
  }
}
