import { randomUUID } from "node:crypto";
import { journalRefusal, type JournalKind, type Posting } from "../../core/money";
import type { EntityManager } from "../../store/orm";

/** Books one journal about an order line. The ledger is append-only; the same kind is booked once per line. Throws on an unbalanced one. */
export const book = async (
  em: EntityManager,
  kind: JournalKind,
  about: { orderId: string; lineId: string },
  postings: Posting[],
  at: Date,
): Promise<void> => {
  const refusal = journalRefusal(postings);
  if (refusal) throw new Error(`A ${kind} journal was refused: ${JSON.stringify(refusal)}. Its postings must sum to zero in each currency.`);
  if (postings.length === 0) return;
  const id = randomUUID();
  await em.execute("insert into journal (id, kind, order_id, line_id, at) values (?, ?, ?, ?, ?)", [id, kind, about.orderId, about.lineId, at]);
  const rows = postings.map(({ account, partnerId, minor, currency }, position) => [id, position, account, partnerId ?? null, minor, currency]);
  await em.execute(
    `insert into posting (journal_id, position, account, partner_id, minor, currency) values ${rows.map(() => "(?, ?, ?, ?, ?, ?)").join(", ")}`,
    rows.flat(),
  );
};
