import { Migration } from "@mikro-orm/migrations";

/** Coupons with their codes, and what each order used of them. */
export class Migration0008Coupons extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table coupon (
  id uuid primary key, label text not null, off jsonb not null, products uuid[], from_at timestamptz, until_at timestamptz, uses int check (uses > 0),
  once_per_person boolean not null, stopped_at timestamptz, created_at timestamptz not null, created_by uuid references desk_user,
  check (until_at > from_at)
);
create table coupon_code (
  code text primary key check (code ~ '^[A-Z0-9-]{3,40}$'), coupon_id uuid not null references coupon, single boolean not null
);
create index on coupon_code (coupon_id);
create table coupon_use (
  order_id uuid primary key references sale_order, coupon_id uuid not null references coupon, code text not null references coupon_code,
  discount_minor bigint not null check (discount_minor >= 0), currency char(3) not null, at timestamptz not null
);
create index on coupon_use (coupon_id);
create index on coupon_use (code);
-- A code that came with a link, kept until its visitor begins a checkout.
create table visitor_coupon (
  visitor_id uuid not null, launch_id uuid not null references launch, code text not null references coupon_code, at timestamptz not null,
  primary key (visitor_id, launch_id)
);
alter table checkout add column coupon text references coupon_code;
alter table charge add column coupon text references coupon_code;
create index on charge (coupon) where coupon is not null;
alter table order_line add column discount_minor bigint not null default 0 check (discount_minor >= 0);
    `);
  }
}
