import { Migration } from "@mikro-orm/migrations";

/**
 * Access without an order: given by hand, for a reason. Everything else that opens a product is read from orders, payments,
 * refunds and disputes. A recurring payment says whether it pays a price in parts or a subscription, whose periods end.
 */
export class Migration0048Access extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table recurring_payment add column kind text not null default 'subscription' check (kind in ('instalments', 'subscription'));
update recurring_payment r set kind = 'instalments' from product p where p.id = r.product_id and p.terms->>'kind' = 'instalments';
alter table recurring_payment alter column kind drop default;

create table access_grant (
  id uuid primary key,
  contact_id uuid not null references contact (id),
  product_id uuid not null references product (id),
  from_at timestamptz not null,
  until_at timestamptz,
  reason text not null check (reason <> ''),
  given_at timestamptz not null,
  given_by uuid references desk_user (id),
  revoked_at timestamptz,
  revoked_by uuid references desk_user (id),
  revoked_because text,
  import_id uuid references people_import (id),
  check (until_at > from_at),
  check ((revoked_at is null) = (revoked_because is null))
);
create index on access_grant (contact_id);
create index on access_grant (product_id);
create unique index on access_grant (import_id, contact_id);
update people_import set choices = choices || '{"access": null}' where choices is not null;
    `);
  }
}
