import { randomUUID } from "node:crypto";
import { journalRefusal, type JournalKind, type Posting } from "../../core/money";
import type { EntityManager } from "../../store/orm";
import { writeSale, type SaleRows } from "../../store/payments/writeSale";

/** What a journal is about: a line of an order; the refund or dispute of it, and the commission on it, if it books one. */
export interface About {
  orderId: string;
  lineId: string;
  aboutId?: string;
  commissionId?: string;
}

/** The rows of one journal; none where there is nothing to book. Throws on an unbalanced one. */
export const journalRows = (
  kind: JournalKind,
  { orderId, lineId, aboutId, commissionId }: About,
  postings: Posting[],
  at: Date,
): Pick<SaleRows, "journal" | "posting"> => {
  const refusal = journalRefusal(postings);
  if (refusal) throw new Error(`A ${kind} journal was refused: ${JSON.stringify(refusal)}. Its postings must sum to zero in each currency.`);
  if (postings.length === 0) return { journal: [], posting: [] };
  const id = randomUUID();
  return {
    journal: [{ id, kind, order_id: orderId, line_id: lineId, about_id: aboutId ?? null, commission_id: commissionId ?? null, at }],
    posting: postings.map(({ account, partnerId, minor, currency }, position) => ({
      journal_id: id,
      position,
      account,
      partner_id: partnerId ?? null,
      minor,
      currency,
    })),
  };
};

/** Books one journal about an order line. The ledger is append-only; the same kind is booked once per line, and once per refund or dispute. */
export const book = async (em: EntityManager, kind: JournalKind, about: About, postings: Posting[], at: Date): Promise<void> => {
  await writeSale(em, journalRows(kind, about, postings, at));
};
