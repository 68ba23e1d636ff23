import type { EntityManager } from "../../store/orm";
import { mergeRows, type SaleRows } from "../../store/payments/writeSale";

/** What follows from something: rows that are written with it in one statement, and what is done after them in its transaction. */
export interface Reaction {
  rows?: SaleRows;
  then?: (tx: EntityManager) => Promise<unknown>;
}

/** Something that happens in one room and that others react to, all in its own transaction. */
export class Happening<What> {
  private reacts?: readonly ((what: What) => Reaction)[];
  constructor(private readonly name: string) {}

  /** Says who reacts, in this order. Once for a process, at its start. */
  subscribe(...reacts: readonly ((what: What) => Reaction)[]): void {
    this.reacts = reacts;
  }

  /** All that follows, as one. Throws in a process in which nobody was asked to react: a sale without a receipt must not pass for one. */
  reactionTo(what: What): { rows: SaleRows; then?: (tx: EntityManager) => Promise<void> } {
    if (!this.reacts) throw new Error(`Nobody reacts to "${this.name}" in this process: call subscribeAll() of server/reactions when it starts.`);
    const all = this.reacts.map((react) => react(what));
    const later = all.flatMap(({ then }) => then ?? []);
    const rows = mergeRows(...all.flatMap((one) => one.rows ?? []));
    if (later.length === 0) return { rows };
    return {
      rows,
      then: async (tx) => {
        for (const then of later) await then(tx);
      },
    };
  }
}
