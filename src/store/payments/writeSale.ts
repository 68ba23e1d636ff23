import type { ChargeState } from "../../core/offers";
import { Order, OrderLine } from "../checkout/tables";
import { EmailMessage } from "../emails/tables";
import { countEvents } from "../events/countEvents";
import { EventRow } from "../events/tables";
import { Journal, Posting } from "../money/tables";
import type { EntityManager } from "../orm";
import { Commission } from "../partners/tables";
import { OutboxWork } from "../platform/tables";
import { prepared } from "../prepared";
import type { CouponUse } from "../products/tables";
import { columnsOf, type Columns, type RowOf, type RowOfColumns } from "../rows";
import type { Checkout } from "../checkout/tables";
import { RecurringPayment, type Charge } from "./tables";

// Columns that a row may leave out are left out here: the database has what stands in for them.
const orders = columnsOf(
  Order,
  ...(["id", "launchId", "checkoutId", "contactId", "personId", "currency", "placedAt", "country", "region", "cardRef", "cardLast4"] as const),
  ...([
    "source",
    "externalId",
    "partnerId",
    "credit",
    "recovered",
    "vatNumber",
    "reverseCharge",
    "evidence",
    "pathVersion",
    "test",
    "agreed",
  ] as const),
);
const lines = columnsOf(
  OrderLine,
  ...(["id", "orderId", "chargeId", "productId", "stepId", "role", "name", "quantity"] as const),
  ...(["netMinor", "taxMinor", "grossMinor", "rateBp", "feeMinor", "discountMinor"] as const),
);
const journals = columnsOf(Journal, "id", "kind", "orderId", "lineId", "aboutId", "commissionId", "at");
const postings = columnsOf(Posting, "journalId", "position", "account", "partnerId", "minor", "currency");
const commissions = columnsOf(
  Commission,
  ...(["id", "lineId", "partnerId", "level", "planId", "planVersion", "rule", "baseMinor", "rateBp", "minor", "currency", "pendingUntil"] as const),
);
const recurringPayments = columnsOf(
  RecurringPayment,
  ...(["id", "orderId", "lineId", "productId", "kind", "minor", "quantity", "every", "paymentsLeft", "begunAt", "firstAt", "nextAt"] as const),
);
const emails = columnsOf(EmailMessage, "id", "key", "kind", "launchId", "contactId", "dueAt", "data");
const work = columnsOf(OutboxWork, "topic", "payload", "key", "dueAt");
const events = columnsOf(EventRow, "launchId", "personId", "visitorId", "kind", "at", "page", "country", "data");

/** Rows of a sale, by their tables. Amounts in minor units. */
export interface SaleRows {
  /** Where a charge, at most one, goes from one state (`was`) to the next. If it has left it meanwhile, all the other rows stay out as well. */
  charge?: [RowOf<Charge, "id" | "state" | "processorId" | "challengeUrl" | "declineCode" | "settledAt"> & { was: ChargeState }] | [];
  /** The checkout that is paid, at most one. */
  checkout?: [RowOf<Checkout, "id" | "paidAt">] | [];
  sale_order?: RowOfColumns<typeof orders>[];
  order_line?: RowOfColumns<typeof lines>[];
  journal?: RowOfColumns<typeof journals>[];
  posting?: RowOfColumns<typeof postings>[];
  commission?: RowOfColumns<typeof commissions>[];
  recurring_payment?: RowOfColumns<typeof recurringPayments>[];
  /** The coupon of a code is looked up. */
  coupon_use?: RowOf<CouponUse, "orderId" | "code" | "discountMinor" | "currency" | "at">[];
  email_message?: RowOfColumns<typeof emails>[];
  outbox?: RowOfColumns<typeof work>[];
  /** What the people of these rows did, for the log and the roll-up of stages. */
  event?: RowOfColumns<typeof events>[];
}

/** The tables of a sale, each once. */
const saleTables = [
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

/** Rows of several parts of a sale, together. */
export const mergeRows = (...parts: readonly SaleRows[]): SaleRows =>
  Object.fromEntries(saleTables.map((table) => [table, parts.flatMap((part): object[] => part[table] ?? [])]));

/** Writes the rows that were sent for a table, if any. */
const insert = <Table, Name extends keyof Table & string>({ table, names, typed }: Columns<Table, Name>): string =>
  `insert into ${table} (${names}) select r.* from asked, jsonb_to_recordset(all_rows->'${table}') as r(${typed})`;

// A payment is a handful of rows in a dozen tables. One statement writes them all: each one more would be a wait while
// others wait for the same rows. What is updated is found by its id from one row, not joined: the planner takes the
// rows of a list for a hundred and would read the whole table.
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
), orders as (${insert(orders)}),
lines as (${insert(lines)}),
journals as (${insert(journals)}),
postings as (${insert(postings)}),
commissions as (${insert(commissions)}),
recurring_payments as (${insert(recurringPayments)}),
uses as (
  insert into coupon_use (order_id, coupon_id, code, discount_minor, currency, at)
  select r.order_id, (select c.coupon_id from coupon_code c where c.code = r.code), r.code, r.discount_minor, r.currency, r.at
  from asked, jsonb_to_recordset(all_rows->'coupon_use') as r(order_id uuid, code text, discount_minor bigint, currency text, at timestamptz)
),
emails as (${insert(emails)}),
work as (${insert(work)}),
${countEvents(`asked, jsonb_to_recordset(all_rows->'event') as b(${events.typed})`, "b.person_id")}
select count(*)::int as n from asked`;

/** Writes all rows of a sale, or of its journals alone. Answers false, with nothing written, where a charge has left the state it was in. */
export const writeSale = async (tx: EntityManager, rows: SaleRows): Promise<boolean> => {
  const all = Object.fromEntries(saleTables.map((table) => [table, rows[table] ?? []]));
  const [row] = await prepared<{ n: number }>(tx, "write_sale", statement, [JSON.stringify(all)]);
  return row!.n === 1;
};
