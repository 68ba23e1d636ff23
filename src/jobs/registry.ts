import type { WorkPayload, WorkTopic } from "../core/work";
import { notifyVendor, queueBellEmails, queueLastCalls, rescheduleEmails, runBells } from "../server/launch";
import { queueOneOff } from "../server/emails";
import { importPeople } from "../server/people";
import { welcomePartner } from "../server/partners";
import { capturePayment, settleCharge, settleRefund, takeDuePayment } from "../server/payments";
import { retryDelayMs, type App } from "../server/platform";
import { sendInvitation, sendNewPassword } from "../server/settings";

/** How a kind of work is done. */
interface Handler<T extends WorkTopic> {
  /** May run twice for the same work: after a crash it is taken up again. Throws to be tried again. */
  run(this: void, app: App, payload: WorkPayload<T>): Promise<void>;
  /** How many of it a process works on at a time. */
  concurrency: number;
  /** How long it waits before it is tried again, by how often it has failed. Nothing is ever given up. */
  retryMs(this: void, tries: number): number;
}

/** Work about one thing, by its id. */
const about = (run: (app: App, id: string) => Promise<void>, concurrency: number) => ({
  run: (app: App, { id }: { id: string }) => run(app, id),
  concurrency,
  retryMs: retryDelayMs,
});

/** What is done for each kind of work. */
export const handlers: { [T in WorkTopic]: Handler<T> } = {
  settle_charge: about(settleCharge, 4),
  charge_recurring_payment: about(takeDuePayment, 4),
  settle_refund: about(settleRefund, 2),
  capture_payment: about(capturePayment, 2),
  run_bells: about(runBells, 2),
  queue_emails: about(queueBellEmails, 1),
  queue_one_off: about(queueOneOff, 1),
  notify_vendor: about(notifyVendor, 1),
  reschedule_emails: about(rescheduleEmails, 1),
  queue_last_calls: about(queueLastCalls, 1),
  import_people: about(importPeople, 1),
  welcome_partner: about(welcomePartner, 1),
  send_invitation: about(sendInvitation, 1),
  send_desk_password: about(sendNewPassword("desk"), 1),
  send_partner_password: about(sendNewPassword("partner"), 1),
  send_buyer_password: about(sendNewPassword("buyer"), 2),
};
