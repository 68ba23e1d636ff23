import { LockMode } from "@mikro-orm/core";
import { reversalPostings } from "../../core/money";
import { commissionToReverse } from "../../core/offers";
import { postingsAbout } from "../../store/money/postingsAbout";
import type { EntityManager } from "../../store/orm";
import { mergeRows, writeSale, type SaleRows } from "../../store/payments/writeSale";
import { Commission } from "../../store/tables";
import { journalRows } from "../money";

/** Commissions, held until the transaction ends. */
const locked = (tx: EntityManager, of: { lineId: string } | { id: string }): Promise<Commission[]> =>
  tx.find(Commission, of, { lockMode: LockMode.PESSIMISTIC_WRITE, refresh: true, orderBy: { level: 1 } });

/** A line of an order with what of it has gone back. Minor units. */
interface Returned {
  id: string;
  net: number;
  refunded: { gross: number; tax: number };
}

/** Takes back what lines earned their partners, in proportion to what of them has gone back. */
export const reverseCommissions = async (
  tx: EntityManager,
  about: { orderId: string; aboutId: string },
  lines: readonly Returned[],
  currency: string,
  now: Date,
): Promise<void> => {
  const parts: SaleRows[] = [];
  for (const { id: lineId, net, refunded } of lines) {
    for (const { id, partnerId, minor, reversedMinor } of await locked(tx, { lineId })) {
      const back = commissionToReverse(minor, reversedMinor, net, refunded.gross - refunded.tax);
      if (back === 0) continue;
      await tx.nativeUpdate(Commission, { id }, { reversedMinor: reversedMinor + back });
      parts.push(journalRows("commission_reversal", { ...about, lineId, commissionId: id }, reversalPostings(partnerId, back, currency), now));
    }
  }
  await writeSale(tx, mergeRows(...parts));
};

/** Gives partners back what a dispute had taken from them, now that it is won. */
export const restoreCommissions = async (
  tx: EntityManager,
  { id, orderId, currency, now }: { id: string; orderId: string; currency: string; now: Date },
): Promise<void> => {
  const parts: SaleRows[] = [];
  const taken = (await postingsAbout(tx, id)).filter((row) => row.kind === "commission_reversal" && row.account === "partner_payable");
  for (const { lineId, commissionId, minor } of taken) {
    const [earned] = await locked(tx, { id: commissionId! });
    await tx.nativeUpdate(Commission, { id: earned!.id }, { reversedMinor: earned!.reversedMinor - minor });
    const about = { orderId, lineId, aboutId: id, commissionId: earned!.id };
    parts.push(journalRows("commission_restored", about, reversalPostings(earned!.partnerId, -minor, currency), now));
  }
  await writeSale(tx, mergeRows(...parts));
};
