import { emailKindNames, type EmailKindName } from "../emails";
import { z } from "zod";

export * from "./topics";

/** Work in the background that is late: what it is, since when it should have been done, and why it was not. */
export interface LateWork {
  /** Its row in the outbox; none while it is in somebody's hands. */
  id: string | null;
  what: string;
  /** The launch, order or partner it is about, where that is known. */
  about: string;
  /** When it should have been done, and when it is tried next; ISO 8601. */
  since: string;
  nextAt: string | null;
  tries: number;
  because: string;
}

/** Emails of one kind that wait, are unsure, or were dropped. */
export interface EmailQueue {
  kind: EmailKindName;
  state: "late" | "sending" | "unknown" | "dropped";
  because: string;
  n: number;
  /** When the oldest of them was due; ISO 8601. */
  since: string;
}

export interface WaitingWork {
  work: LateWork[];
  emails: EmailQueue[];
}

/** What can be done about it: try a piece of work now, try all emails that failed, or send again what is unsure. */
export const retryRequest = z.discriminatedUnion("what", [
  z.object({ what: z.literal("work"), id: z.string().regex(/^\d{1,18}$/) }),
  z.object({ what: z.literal("emails") }),
  z.object({ what: z.literal("unknown"), kind: z.enum(emailKindNames) }),
]);
export type RetryRequest = z.infer<typeof retryRequest>;

/** Why an email was dropped, in words. */
export const dropWords: Record<string, string> = {
  doors_closed: "the doors had closed",
  next_is_due: "the next email to the same bell was due",
  too_late: "what it says was not true any more",
  sold_out: "all seats are taken",
  paid: "its reader has bought",
  unsubscribed: "its reader has unsubscribed",
  confirmed: "the address was confirmed already",
  clock_stopped: "its reader's clock has stopped",
  clock_merged: "its reader's clock began earlier",
  email_withdrawn: "the email was withdrawn",
  not_meant: "its condition did not hold for its reader",
  not_published: "nothing was published that could go",
  no_consent: "its reader has not agreed to emails",
  launch_left: "its reader gets no more emails of this launch",
  merged: "its reader’s other address gets it",
  erased: "its reader was erased",
  quiet_past_close: "its reader’s quiet hours end after the close",
  cap_past_close: "its reader gets no more emails before the close",
  suppressed: "mail to its reader has come back",
  no_such_address: "the mail server knows no such address",
  refused_by_server: "the mail server refused it for good",
};
