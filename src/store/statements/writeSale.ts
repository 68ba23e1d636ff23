import type { EntityManager } from "../orm";
import { countEvents } from "../events/countEvents";
import { prepared } from "./prepared";

type Row = Record<string, unknown>;
type Rows = Row[];

/** Rows of a sale, by the columns of their tables. Amounts in minor units; instants as ISO 8601. */
export interface SaleRows {
  /** Where a charge, at most one, goes from one state (`was`) to the next. If it has left it meanwhile, all the other rows stay out as well. */
  charge?: [Row] | [];
  /** The checkout that is paid, at most one. */
  checkout?: [Row] | [];
  sale_order?: Rows;
  order_line?: Rows;
  journal?: Rows;
  posting?: Rows;
  commission?: Rows;
  recurring_payment?: Rows;
  coupon_use?: Rows;
  email_message?: Rows;
  outbox?: Rows;
  /** What the people of these rows did, for the log and the roll-up of stages. */
  event?: Rows;
}

/** The tables of a sale, each once. */
export const saleTables = [
  "charge",
  "checkout",
  "sale_order",
  "order_line",
  "journal",
  "posting",
  "commission",
  "recurring_payment",
  "coupon_use",
  "email_message",
  "outbox",
  "event",
] as const satisfies readonly (keyof SaleRows)[];

// A payment is a handful of rows in a dozen tables. One statement writes them all: each one more would be a wait while
// others wait for the same rows. What is updated is found by its id from one row, not joined: the planner takes the
// rows of a list for a hundred and would read the whole table. Columns that a row may leave out are named with what stands in for them.
const statement = /* sql */ `
with sent as materialized (select ?::jsonb as all_rows),
won as (
  update charge g set state = r->>'state', processor_id = r->>'processor_id', challenge_url = r->>'challenge_url', decline_code = r->>'decline_code',
    settled_at = (r->>'settled_at')::timestamptz
  from (select all_rows->'charge'->0 as r from sent) as one where g.id = (r->>'id')::uuid and g.state = r->>'was' returning g.id
), asked as materialized (
  select all_rows from sent where jsonb_array_length(all_rows->'charge') = (select count(*) from won)
), paid as (
  update checkout k set paid_at = (r->>'paid_at')::timestamptz from (select all_rows->'checkout'->0 as r from asked) as one where k.id = (r->>'id')::uuid
), orders as (
  insert into sale_order (id, launch_id, checkout_id, contact_id, person_id, currency, placed_at, country, card_ref, card_last4, source, external_id,
    partner_id, credit, recovered, vat_number, reverse_charge, evidence, path_version, test, agreed, region)
  select r.* from asked, jsonb_to_recordset(all_rows->'sale_order') as r(id uuid, launch_id uuid, checkout_id uuid, contact_id uuid, person_id uuid, currency text,
    placed_at timestamptz, country text, card_ref text, card_last4 text, source text, external_id text, partner_id uuid, credit jsonb, recovered boolean,
    vat_number text, reverse_charge boolean, evidence jsonb, path_version int, test boolean, agreed jsonb, region text)
), lines as (
  insert into order_line (id, order_id, charge_id, product_id, step_id, role, name, net_minor, tax_minor, gross_minor, rate_bp, fee_minor, discount_minor, quantity)
  select r.* from asked, jsonb_to_recordset(all_rows->'order_line') as r(id uuid, order_id uuid, charge_id uuid, product_id uuid, step_id uuid, role text, name text,
    net_minor bigint, tax_minor bigint, gross_minor bigint, rate_bp int, fee_minor bigint, discount_minor bigint, quantity int)
), journals as (
  insert into journal (id, kind, order_id, line_id, about_id, at)
  select r.* from asked, jsonb_to_recordset(all_rows->'journal') as r(id uuid, kind text, order_id uuid, line_id uuid, about_id uuid, at timestamptz)
), postings as (
  insert into posting (journal_id, position, account, partner_id, minor, currency)
  select r.* from asked, jsonb_to_recordset(all_rows->'posting') as r(journal_id uuid, position int, account text, partner_id uuid, minor bigint, currency text)
), commissions as (
  insert into commission (line_id, partner_id, base_minor, rate_bp, minor, currency, pending_until)
  select r.* from asked, jsonb_to_recordset(all_rows->'commission') as r(line_id uuid, partner_id uuid, base_minor bigint, rate_bp int, minor bigint, currency text, pending_until timestamptz)
), recurring_payments as (
  insert into recurring_payment (id, order_id, line_id, product_id, minor, quantity, every, payments_left, begun_at, first_at, next_at)
  select r.* from asked, jsonb_to_recordset(all_rows->'recurring_payment') as r(id uuid, order_id uuid, line_id uuid, product_id uuid, minor bigint, quantity int, every jsonb,
    payments_left int, begun_at timestamptz, first_at timestamptz, next_at timestamptz)
), uses as (
  insert into coupon_use (order_id, coupon_id, code, discount_minor, currency, at)
  select r.order_id, (select c.coupon_id from coupon_code c where c.code = r.code), r.code, r.discount_minor, r.currency, r.at
  from asked, jsonb_to_recordset(all_rows->'coupon_use') as r(order_id uuid, code text, discount_minor bigint, currency text, at timestamptz)
), emails as (
  insert into email_message (id, key, kind, launch_id, contact_id, due_at, data)
  select r.* from asked, jsonb_to_recordset(all_rows->'email_message') as r(id uuid, key text, kind text, launch_id uuid, contact_id uuid, due_at timestamptz, data jsonb)
), work as (
  insert into outbox (topic, payload, key, due_at)
  select r.* from asked, jsonb_to_recordset(all_rows->'outbox') as r(topic text, payload jsonb, key text, due_at timestamptz)
), ${countEvents(
  "asked, jsonb_to_recordset(all_rows->'event') as b(launch_id uuid, person_id uuid, visitor_id uuid, kind text, at timestamptz, page text, country char(2), data jsonb)",
  "b.person_id",
)}
select count(*)::int as n from asked`;

/** Writes all rows of a sale, or of its journals alone. Answers false, with nothing written, where a charge has left the state it was in. */
export const writeSale = async (tx: EntityManager, rows: SaleRows): Promise<boolean> => {
  const all = Object.fromEntries(saleTables.map((table) => [table, rows[table] ?? []]));
  const [row] = await prepared<{ n: number }>(tx, "write_sale", statement, [JSON.stringify(all)]);
  return row!.n === 1;
};
