import { Migration } from "@mikro-orm/migrations";

/** What buyers choose at the checkout, payments that come later, refunds, disputes, and orders that only try things out. */
export class Migration0009Orders extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
-- A product may cost something of its own in other currencies: minor units by ISO 4217 code.
alter table product add column prices jsonb not null default '{}';

alter table checkout
  add column quantity int not null default 1 check (quantity between 1 and 10000),
  -- The price that the buyer named, where they may.
  add column named_minor bigint check (named_minor >= 0),
  -- The currency they pay in, where the main product has several.
  add column currency char(3),
  -- What is bought instead of the launch's main product: an offer by itself.
  add column product_id uuid references product,
  -- The price that was shown is held for a while.
  add column held_minor bigint, add column held_until timestamptz,
  add column agreed jsonb not null default '[]',
  add column test boolean not null default false;

-- Orders that only try things out stand apart from every figure and book nothing.
alter table sale_order add column test boolean not null default false, add column agreed jsonb not null default '[]';
create index on sale_order (launch_id) where test;
alter table contact add column test boolean not null default false;
alter table contact drop constraint contact_email_key;
create unique index on contact (email) where not test;
create unique index on contact (email) where test;

-- What is charged again by itself: instalments and subscriptions.
create table agreement (
  id uuid primary key, order_id uuid not null references sale_order, line_id uuid not null unique references order_line,
  product_id uuid not null references product, minor bigint not null check (minor >= 0), quantity int not null default 1,
  every jsonb not null, payments_left int check (payments_left >= 0), paid int not null default 0 check (paid >= 0), tries int not null default 0,
  begun_at timestamptz not null, first_at timestamptz not null, next_at timestamptz not null,
  state text not null default 'active' check (state in ('active', 'late', 'done', 'ended')), ended_at timestamptz, ended_because text,
  check ((state in ('active', 'late')) = (ended_at is null))
);
create index on agreement (order_id);

alter table charge drop constraint charge_amount_minor_check, add check (amount_minor >= 0);
alter table charge add column agreement_id uuid references agreement, add column nth int, add check ((agreement_id is null) = (nth is null));
drop index one_live_charge;
create unique index one_live_charge on charge (checkout_id, coalesce(step_id, '00000000-0000-0000-0000-000000000000'))
  where state <> 'declined' and agreement_id is null;
create unique index one_live_payment on charge (agreement_id, nth) where state <> 'declined';

alter table order_line
  add column quantity int not null default 1 check (quantity > 0),
  drop constraint order_line_role_check,
  add check (role in ('front', 'bump', 'offer', 'shipping', 'rebill'));
drop index order_line_order_id_coalesce_product_id_idx;
drop index order_line_charge_id_product_id_idx;
-- A product stands once in a step of an order, and once in a charge, with its sending beside it: what is applied twice books once.
create unique index one_line_a_step on order_line (order_id, coalesce(step_id, '00000000-0000-0000-0000-000000000000'), product_id, (role = 'shipping')) where role <> 'rebill';
create unique index one_line_a_charge on order_line (charge_id, product_id, (role = 'shipping'));

create table refund (
  id uuid primary key, order_id uuid not null references sale_order, charge_id uuid not null references charge, amount_minor bigint not null check (amount_minor > 0),
  currency char(3) not null, items jsonb not null, reason text not null, state text not null default 'pending' check (state in ('pending', 'succeeded', 'failed')),
  processor_id text, asked_at timestamptz not null, settled_at timestamptz, asked_by uuid references desk_user
);
create index on refund (order_id);
create table dispute (
  id uuid primary key, order_id uuid not null references sale_order, charge_id uuid not null references charge, processor_id text not null unique,
  amount_minor bigint not null check (amount_minor > 0), fee_minor bigint not null, currency char(3) not null, reason text not null,
  state text not null check (state in ('open', 'won', 'lost')), opened_at timestamptz not null, closed_at timestamptz
);
create index on dispute (order_id);

alter table journal drop constraint journal_kind_check, drop constraint journal_kind_line_id_key;
alter table journal add column about_id uuid;
alter table journal add check (kind in ('payment', 'commission', 'marketplace_sale', 'refund', 'commission_reversal', 'dispute', 'dispute_won'));
-- A kind is booked once for a line, and once for each refund or dispute of it.
create unique index on journal (kind, line_id, coalesce(about_id, '00000000-0000-0000-0000-000000000000'));
-- What was taken back of a commission, in minor units; the ledger holds how.
alter table commission add column reversed_minor bigint not null default 0 check (reversed_minor between 0 and minor);
    `);
  }
}
