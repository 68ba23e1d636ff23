import type { WebhookMessageRow, WebhookRow } from "../../contract/webhooks";
import { webhookEvents, type OffReason, type WebhookEvent } from "../../core/webhooks";
import { counted, fullMoment } from "../../core/words";

/** Why nothing goes to an endpoint, in words. */
export const offWords: Record<OffReason, string> = {
  switched_off: "Switched off",
  gone: "Off: the receiver wants no more (410)",
  failing: "Off: it took nothing for three days",
};

/** What an endpoint is told of: `when an order is paid, and when money goes back to a buyer`. */
export const eventsWords = (events: readonly WebhookEvent[]): string => {
  const all = events.map((event) => `when ${webhookEvents[event]}`);
  return all.length < 2 ? all.join("") : `${all.slice(0, -1).join(", ")}, and ${all.at(-1)}`;
};

/** How the messages of an endpoint stand: `212 arrived, the last 2 Dec, 10:14; 3 wait, 2 of them tried in vain; 1 failed`. */
export const standWords = ({ due, late, delivered, failed, arrivedAt }: WebhookRow, zone: string): string => {
  if (due + delivered + failed === 0) return "nothing has happened yet that it is told of";
  const arrived = arrivedAt ? `${delivered} arrived, the last ${fullMoment(arrivedAt, zone)}` : "none arrived";
  const waits = due === 0 ? [] : [`${counted(due, "waits", "wait")}${late > 0 ? `, ${late} of them tried in vain` : ""}`];
  return [arrived, ...waits, ...(failed > 0 ? [`${failed} failed`] : [])].join("; ");
};

/** How a message stands, in words. */
export const messageWords = ({ state, tries, triedAt, dueAt, status }: WebhookMessageRow, zone: string): string => {
  const answered = status === null ? "" : `, answered ${status}`;
  if (state === "delivered") return `arrived ${fullMoment(triedAt!, zone)}${tries > 1 ? ` at try ${tries}` : ""}`;
  if (state === "failed") return `failed after ${counted(tries, "try", "tries")}${answered}`;
  return tries === 0 ? "goes next" : `${counted(tries, "try", "tries")} in vain${answered}; next ${fullMoment(dueAt, zone)}`;
};
