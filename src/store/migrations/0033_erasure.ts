import { Migration } from "@mikro-orm/migrations";

/**
 * People who asked to be erased. Their row stays without anything that says who they are, so that orders, the ledger and figures hold; what the
 * law has an order keep of its buyer stands by itself; and a keyed hash of their address keeps a file from bringing them back.
 */
export class Migration0033Erasure extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table contact add column erased_at timestamptz;
create table erased_buyer (
  order_id uuid primary key references sale_order,
  first_name text not null,
  last_name text not null,
  email text not null,
  at timestamptz not null
);
create index on erased_buyer (at);
create table erased_address (hash text primary key, at timestamptz not null);
alter table retention drop constraint retention_what_check,
  add constraint retention_what_check check (what in ('log', 'visits', 'mail', 'notices', 'checkouts', 'buyers'));
    `);
  }
}
