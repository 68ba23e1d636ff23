import { z } from "zod";

/** Work about one thing, by its id. */
const ofOne = z.object({ id: z.uuid() });

/** Every kind of work in the background: what it carries, and what a person sees of it. */
export const workTopics = {
  settle_charge: { payload: ofOne, says: "Ask the card processor about a payment" },
  charge_recurring_payment: { payload: ofOne, says: "Charge a recurring payment" },
  settle_refund: { payload: ofOne, says: "Ask the card processor for a refund" },
  capture_payment: { payload: ofOne, says: "Capture an authorized payment" },
  run_bells: { payload: ofOne, says: "Ring a launch's bells" },
  queue_emails: { payload: ofOne, says: "Queue the emails of a bell" },
  queue_one_off: { payload: ofOne, says: "Queue a one-off email" },
  notify_vendor: { payload: ofOne, says: "Tell the owners of a bell" },
  reschedule_emails: { payload: ofOne, says: "Reschedule a launch’s emails" },
  queue_last_calls: { payload: ofOne, says: "Queue the last emails before a close" },
  welcome_partner: { payload: ofOne, says: "Write to a new partner" },
  send_invitation: { payload: ofOne, says: "Send an invitation to the team" },
  send_desk_password: { payload: ofOne, says: "Send a link for a new password to somebody of the team" },
  send_partner_password: { payload: ofOne, says: "Send a link for a new password to a partner" },
  import_people: { payload: ofOne, says: "Go through a file of people" },
  send_buyer_password: { payload: ofOne, says: "Send a link for a new password to a buyer" },
} as const satisfies Record<string, { payload: z.ZodType; says: string }>;

export type WorkTopic = keyof typeof workTopics;
export type WorkPayload<T extends WorkTopic> = z.infer<(typeof workTopics)[T]["payload"]>;
export const workTopicNames = Object.keys(workTopics) as WorkTopic[];

/** Whether a name is that of a kind of work: rows of an older or a newer version may name others. */
export const isWorkTopic = (name: string): name is WorkTopic => Object.hasOwn(workTopics, name);
