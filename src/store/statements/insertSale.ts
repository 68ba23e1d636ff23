import type { EntityManager } from "../orm";

/** Rows of a sale, by the columns of their tables. Amounts in minor units; instants as ISO 8601. */
export interface SaleRows {
  sale_order?: Record<string, unknown>[];
  order_line?: Record<string, unknown>[];
  journal?: Record<string, unknown>[];
  posting?: Record<string, unknown>[];
  commission?: Record<string, unknown>[];
  agreement?: Record<string, unknown>[];
}

// A payment is a handful of rows in six tables. One statement writes them all: each one more would be a wait while
// others wait for the same seat. Defaults are named where a row may leave a column out.
const statement = /* sql */ `
with asked as (select ?::jsonb as all_rows),
orders as (
  insert into sale_order (id, launch_id, checkout_id, contact_id, person_id, currency, placed_at, country, card_ref, card_last4, source, external_id,
    partner_id, credit, recovered, vat_number, reverse_charge, evidence, path_version, test, agreed)
  select r.* from asked, jsonb_to_recordset(all_rows->'sale_order') as r(id uuid, launch_id uuid, checkout_id uuid, contact_id uuid, person_id uuid, currency text,
    placed_at timestamptz, country text, card_ref text, card_last4 text, source text, external_id text, partner_id uuid, credit jsonb, recovered boolean,
    vat_number text, reverse_charge boolean, evidence jsonb, path_version int, test boolean, agreed jsonb)
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
  insert into commission (line_id, partner_id, base_minor, rate_bp, minor, currency, held_until)
  select r.* from asked, jsonb_to_recordset(all_rows->'commission') as r(line_id uuid, partner_id uuid, base_minor bigint, rate_bp int, minor bigint, currency text, held_until timestamptz)
)
insert into agreement (id, order_id, line_id, product_id, minor, quantity, every, payments_left, begun_at, first_at, next_at)
select r.* from asked, jsonb_to_recordset(all_rows->'agreement') as r(id uuid, order_id uuid, line_id uuid, product_id uuid, minor bigint, quantity int, every jsonb,
  payments_left int, begun_at timestamptz, first_at timestamptz, next_at timestamptz)`;

/** Writes all rows of a sale, or of its journals alone, in the transaction that is under way. */
export const insertSale = async (tx: EntityManager, rows: SaleRows): Promise<void> => {
  const { sale_order = [], order_line = [], journal = [], posting = [], commission = [], agreement = [] } = rows;
  await tx.execute(statement, [JSON.stringify({ sale_order, order_line, journal, posting, commission, agreement })]);
};
