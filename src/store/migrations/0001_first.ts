import { Migration } from "@mikro-orm/migrations";

/** The first tables. Plain SQL, so that it can be read in a review. */
export class Migration0001First extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table desk_user (
  id uuid primary key, email text not null unique, name text not null, password_hash text not null,
  role text not null check (role in ('owner', 'editor', 'finance', 'viewer'))
);
create table partner (
  id uuid primary key, email text not null unique, name text not null, password_hash text not null,
  code text not null unique check (code ~ '^[a-z0-9-]{2,40}$'),
  rate_bp int not null check (rate_bp between 0 and 10000)
);
create table session (
  token_hash text primary key, kind text not null check (kind in ('desk', 'partner')), subject_id uuid not null,
  created_at timestamptz not null, expires_at timestamptz not null
);
create table rate_limit (key text primary key, from_at timestamptz not null, tries int not null);
create table test_clock (single boolean primary key default true check (single), offset_ms bigint not null);

create table product (
  id uuid primary key, name text not null, private_label text not null, tax_class text not null default 'standard',
  refund_days int not null check (refund_days >= 0), description text not null default '',
  price_minor bigint not null check (price_minor > 0), currency char(3) not null,
  tax_mode text not null check (tax_mode in ('inclusive', 'exclusive'))
);
create table tax_rate (
  country char(2) not null, tax_class text not null, rate_bp int not null check (rate_bp between 0 and 10000),
  from_day date not null, primary key (country, tax_class, from_day)
);
create table launch (
  id uuid primary key, slug text not null unique check (slug ~ '^[a-z0-9-]{1,60}$'), name text not null, zone text not null,
  run_up_from timestamptz not null, opens_at timestamptz not null, closes_at timestamptz not null,
  opens_wall text not null, closes_wall text not null, grace_minutes int not null default 10 check (grace_minutes >= 0),
  main_product_id uuid not null references product, credit_window_days int not null default 60,
  recovery_delay_minutes int not null default 30 check (recovery_delay_minutes between 1 and 10080), created_at timestamptz not null,
  check (closes_at > opens_at)
);
create table page (
  id uuid primary key, launch_id uuid not null references launch, kind text not null, slug text not null,
  draft jsonb not null, published jsonb, compiled jsonb, published_at timestamptz, version int not null default 1,
  unique (launch_id, slug), unique (launch_id, kind)
);
create table path_step (
  id uuid primary key, launch_id uuid not null references launch, page_id uuid not null references page,
  product_id uuid not null references product, position int not null, yes_to text not null, no_to text not null,
  unique (launch_id, position)
);

create table person (id uuid primary key, created_at timestamptz not null, merged_into uuid references person);
create table visitor (id uuid primary key, person_id uuid not null references person, first_seen_at timestamptz not null, country char(2));
create index on visitor (person_id);
create table contact (
  id uuid primary key, person_id uuid not null references person, email text not null unique check (email = lower(trim(email))),
  first_name text not null, country char(2), consent_text text, consent_at timestamptz, unsubscribed_at timestamptz, created_at timestamptz not null
);
create unique index on contact (person_id);
create table touch (
  id uuid primary key, launch_id uuid not null references launch, person_id uuid not null references person,
  partner_id uuid not null references partner, at timestamptz not null
);
create index on touch (person_id, launch_id);
create index on touch (partner_id, at);

create table event (
  launch_id uuid not null, person_id uuid not null, kind text not null, at timestamptz not null,
  page text, country char(2), partner_id uuid
) partition by range (at);
create table event_rest partition of event default;
create index on event (launch_id, kind, at);
create table stage_rollup (
  launch_id uuid not null, person_id uuid not null, country char(2), partner_id uuid,
  visited timestamptz, opted_in timestamptz, saw_sales timestamptz, began_checkout timestamptz, paid timestamptz,
  primary key (launch_id, person_id)
);
create table hourly_count (
  launch_id uuid not null, hour timestamptz not null, kind text not null, n int not null,
  primary key (launch_id, hour, kind)
);

create table checkout (
  id uuid primary key, visitor_id uuid not null, launch_id uuid not null references launch, person_id uuid not null references person,
  contact_id uuid references contact, email text, first_name text, country char(2),
  begun_at timestamptz not null, last_activity_at timestamptz not null, paid_at timestamptz,
  recovery_email_id uuid, recovered_through_email boolean not null default false
);
create index on checkout (visitor_id, launch_id);
create index on checkout (launch_id, begun_at);
create table sale_order (
  id uuid primary key, number bigint generated always as identity (start with 1001) unique, launch_id uuid not null references launch,
  checkout_id uuid unique references checkout, contact_id uuid not null references contact, person_id uuid not null references person,
  currency char(3) not null, placed_at timestamptz not null, country char(2) not null, card_ref text, card_last4 text,
  source text not null, external_id text, partner_id uuid references partner, credit jsonb not null, recovered boolean not null default false,
  finished_path_at timestamptz, unique (source, external_id)
);
create index on sale_order (launch_id, placed_at);
create table charge (
  id uuid primary key, idempotency_key text not null unique, checkout_id uuid not null references checkout, step_id uuid references path_step,
  state text not null check (state in ('pending', 'challenge', 'succeeded', 'declined')),
  amount_minor bigint not null check (amount_minor > 0), currency char(3) not null, tax_minor bigint not null, rate_bp int not null,
  product_id uuid not null references product, card text not null, return_url text not null,
  processor_id text, challenge_url text, decline_code text, created_at timestamptz not null, settled_at timestamptz
);
-- At most one charge of a checkout, and of an offer, is under way or has succeeded.
create unique index one_live_charge on charge (checkout_id, coalesce(step_id, '00000000-0000-0000-0000-000000000000'))
  where state <> 'declined';
create table order_line (
  id uuid primary key, order_id uuid not null references sale_order, charge_id uuid unique references charge, product_id uuid not null references product,
  step_id uuid references path_step, role text not null check (role in ('front', 'offer')), name text not null,
  net_minor bigint not null, tax_minor bigint not null, gross_minor bigint not null, rate_bp int not null, fee_minor bigint not null,
  check (gross_minor = net_minor + tax_minor)
);
create unique index on order_line (order_id, coalesce(step_id, '00000000-0000-0000-0000-000000000000'));
create table offer_decision (
  order_id uuid not null references sale_order, step_id uuid not null references path_step,
  decision text not null check (decision in ('yes', 'no')), at timestamptz not null, primary key (order_id, step_id)
);

create table journal (
  id uuid primary key, kind text not null check (kind in ('payment', 'commission', 'marketplace_sale')),
  order_id uuid references sale_order, line_id uuid references order_line, at timestamptz not null, unique (kind, line_id)
);
create table posting (
  journal_id uuid not null references journal, position int not null, account text not null, partner_id uuid references partner,
  minor bigint not null check (minor <> 0), currency char(3) not null, primary key (journal_id, position),
  check (account <> 'partner_payable' or partner_id is not null)
);
create index on posting (account, partner_id);
create table commission (
  line_id uuid primary key references order_line, partner_id uuid not null references partner, base_minor bigint not null,
  rate_bp int not null, minor bigint not null check (minor >= 0 and minor <= base_minor), currency char(3) not null, held_until timestamptz not null
);
create index on commission (partner_id);
create function journal_is_balanced() returns trigger language plpgsql as $$
begin
  if exists (select 1 from posting where journal_id = new.journal_id group by currency having sum(minor) <> 0) then
    raise exception 'journal % does not sum to zero', new.journal_id using errcode = 'check_violation';
  end if;
  return null;
end $$;
create constraint trigger balanced after insert on posting deferrable initially deferred for each row execute function journal_is_balanced();
create function append_only() returns trigger language plpgsql as $$
begin
  raise exception '% is append-only: book a correcting journal', tg_table_name using errcode = 'restrict_violation';
end $$;
create trigger append_only before update or delete on journal for each row execute function append_only();
create trigger append_only before update or delete on posting for each row execute function append_only();

create table email_message (
  id uuid primary key, key text not null unique, kind text not null check (kind in ('welcome', 'receipt', 'recovery')),
  launch_id uuid not null references launch, contact_id uuid not null references contact, checkout_id uuid references checkout,
  due_at timestamptz not null, state text not null default 'due' check (state in ('due', 'sent', 'stopped')),
  stopped_because text, data jsonb not null, sent_at timestamptz
);
create index on email_message (launch_id, kind);
create table outbox (
  id bigint generated always as identity primary key, topic text not null, payload jsonb not null, key text unique, due_at timestamptz not null
);
create index on outbox (due_at);
create table notice (
  id uuid primary key, source text not null, message_id text not null, body text not null, received_at timestamptz not null,
  applied_at timestamptz, outcome text, unique (source, message_id)
);
create table listing (
  id uuid primary key, launch_id uuid not null references launch, product_id uuid not null references product, marketplace text not null,
  state text not null default 'draft' check (state in ('draft', 'submitted', 'returned', 'live')),
  picture bytea, picture_width int, picture_height int, terms_accepted_at timestamptz, test_order_at timestamptz, test_order_id text,
  order_link text, reasons jsonb, external_id text unique, unique (launch_id, marketplace)
);
    `);
  }
}
