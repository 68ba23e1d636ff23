import type { AccessEnd, AccessVia, OwnedProduct } from "../../core/delivery";
import { shortMoment } from "../../core/words";

const endings: Record<AccessEnd, string> = {
  refunded: "all that was paid went back",
  disputed: "the payment was disputed",
  unpaid: "a payment was missed",
  cancelled: "the payments were ended, and what was paid is used up",
  completed: "the last payment is used up",
  grant_over: "it was given until then",
  grant_revoked: "it was revoked",
};

/** Why a product closed, for the desk; with the reason that was given where access was revoked. */
export const endWords = (because: AccessEnd, via: AccessVia): string =>
  because === "grant_revoked" && via.kind === "grant" && via.revokedBecause ? `${endings[because]}: ${via.revokedBecause}` : endings[because];

/** What opens a product, in a few words behind which an order's number stands. */
export const viaWords = (via: AccessVia): string => {
  if (via.kind === "grant") return `given: ${via.reason}`;
  if (via.test) return "test order";
  return via.authorized ? `order ${via.number}, authorized` : `order ${via.number}`;
};

/** Whether a product is open, and until when, in the given zone. */
export const statusWords = ({ open, until, whilePaid, late, because, via, log }: OwnedProduct, zone: string): string => {
  const last = log.at(-1)!;
  if (!open) return `Closed ${shortMoment(last.at, zone)}: ${endWords(because!, via)}.`;
  if (late) return `A payment is late: open until ${shortMoment(until!, zone)}.`;
  if (whilePaid) return "Open as long as payments go on.";
  return until ? `Open until ${shortMoment(until, zone)}.` : "Open for good.";
};

/** The same for the buyer, with what can be done: nothing where it is simply theirs. `post` is where the vendor reads. */
export const buyerWords = ({ open, until, whilePaid, late, because, via, log }: OwnedProduct, zone: string, post: string): string => {
  const at = (instant: Date) => shortMoment(instant, zone);
  if (late) return `A payment could not be taken. It stays open until ${at(until!)}; write to ${post} if your card has changed.`;
  if (whilePaid) return "Yours as long as the payments go on.";
  if (open) return until ? `Yours until ${at(until)}.` : via.kind === "order" && via.authorized ? "Yours; your card is charged when it is sent." : "";
  const closed = at(log.at(-1)!.at);
  const ends: Record<AccessEnd, string> = {
    refunded: `Closed ${closed}: you have your money back. Write to ${post} if that is not so.`,
    disputed: `Closed ${closed}: your bank took the payment back. Write to ${post} if you did not want that.`,
    unpaid: `Closed ${closed}: a payment could not be taken. It opens again once it is paid; write to ${post}.`,
    cancelled: `Closed ${closed}: the payments were ended, and what you paid is used up.`,
    completed: `Closed ${closed}: all payments were made, and the last is used up.`,
    grant_over: `It was yours until ${closed}.`,
    grant_revoked: `Closed ${closed}. Write to ${post} to ask why.`,
  };
  return ends[because!];
};
