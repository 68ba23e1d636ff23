import type { App } from "../server/app/app";
import type { OutboxTopic } from "../server/app/outbox";
import { rescheduleEmails } from "../server/launch/letters";
import { queueLetters, ringBells, notifyVendor } from "../server/launch/ring";
import { settleCharge } from "../server/offers/charging";
import { settleRefund } from "../server/offers/refunds";
import { takeHeld } from "../server/offers/sending";
import { takeDuePayment } from "../server/offers/takePayment";
import { sendInvitation, sendNewPassword } from "../server/settings/emails";
import { welcomePartner } from "../server/partners/applications";

interface Topic {
  run(this: void, app: App, id: string): Promise<void>;
  /** How many of it a process works on at a time. */
  concurrency: number;
}

/** What can be queued, and what is done then. Every handler may run twice: after a crash, work is taken up again. */
export const topics: Record<OutboxTopic, Topic> = {
  settle_charge: { run: settleCharge, concurrency: 4 },
  take_payment: { run: takeDuePayment, concurrency: 4 },
  settle_refund: { run: settleRefund, concurrency: 2 },
  take_held: { run: takeHeld, concurrency: 2 },
  ring_bells: { run: ringBells, concurrency: 2 },
  queue_letters: { run: queueLetters, concurrency: 1 },
  tell_vendor: { run: notifyVendor, concurrency: 1 },
  hang_letters: { run: rescheduleEmails, concurrency: 1 },
  welcome_partner: { run: welcomePartner, concurrency: 1 },
  send_invitation: { run: sendInvitation, concurrency: 1 },
  send_desk_password: { run: sendNewPassword("desk"), concurrency: 1 },
  send_partner_password: { run: sendNewPassword("partner"), concurrency: 1 },
  send_buyer_password: { run: sendNewPassword("buyer"), concurrency: 2 },
};
export const topicNames = Object.keys(topics) as OutboxTopic[];
