import type { App, OutboxTopic } from "../server/platform";
import { notifyVendor, queueLetters, rescheduleEmails, runBells } from "../server/launch";
import { capturePayment, settleCharge, settleRefund, takeDuePayment } from "../server/payments";
import { sendInvitation, sendNewPassword } from "../server/settings";
import { welcomePartner } from "../server/partners";

interface Topic {
  run(this: void, app: App, id: string): Promise<void>;
  /** How many of it a process works on at a time. */
  concurrency: number;
}

/** What can be queued, and what is done then. Every handler may run twice: after a crash, work is taken up again. */
export const topics: Record<OutboxTopic, Topic> = {
  settle_charge: { run: settleCharge, concurrency: 4 },
  charge_recurring_payment: { run: takeDuePayment, concurrency: 4 },
  settle_refund: { run: settleRefund, concurrency: 2 },
  capture_payment: { run: capturePayment, concurrency: 2 },
  run_bells: { run: runBells, concurrency: 2 },
  queue_emails: { run: queueLetters, concurrency: 1 },
  notify_vendor: { run: notifyVendor, concurrency: 1 },
  reschedule_emails: { run: rescheduleEmails, concurrency: 1 },
  welcome_partner: { run: welcomePartner, concurrency: 1 },
  send_invitation: { run: sendInvitation, concurrency: 1 },
  send_desk_password: { run: sendNewPassword("desk"), concurrency: 1 },
  send_partner_password: { run: sendNewPassword("partner"), concurrency: 1 },
  send_buyer_password: { run: sendNewPassword("buyer"), concurrency: 2 },
};
export const topicNames = Object.keys(topics) as OutboxTopic[];
