import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { EmailContent, EmailData, EmailKindName } from "../../core/emails";
import { at } from "../columns";

export const EmailMessage = defineEntity({
  name: "EmailMessage",
  tableName: "email_message",
  properties: {
    id: p.uuid().primary(),
    key: p.text(),
    kind: p.text().$type<EmailKindName>(),
    launchId: p.uuid(),
    contactId: p.uuid(),
    checkoutId: p.uuid().nullable(),
    dueAt: at(),
    state: p.text().$type<"due" | "sending" | "sent" | "stopped" | "unknown">(),
    stoppedBecause: p.text().nullable(),
    /** Mail to many; kept by the database. */
    bulk: p.boolean().persist(false),
    tries: p.integer().default(0),
    /** Why the last try did not succeed. */
    failedBecause: p.text().nullable(),
    /** Whether it is the last email before a close: it is queued ahead, and keeps its place under the cap. */
    lastCall: p.boolean().default(false),
    /** The worker that has it in hand, and since when its content may be on its way. */
    takenBy: p.uuid().nullable(),
    handedAt: at().nullable(),
    data: p.json().$type<EmailData[EmailKindName]>(),
    sentAt: at().nullable(),
    /** As it was sent. */
    subject: p.text().nullable(),
    /** What came back of it: that it was not delivered, or that its reader reported it, in the words of the server that said so. */
    bounce: p.text().$type<"hard" | "soft">().nullable(),
    bouncedAt: at().nullable(),
    complainedAt: at().nullable(),
    returnSays: p.text().nullable(),
  },
});
/** What an email of a launch says: one that hangs on a bell, by the id of its setting, or of a kind that goes to one person, by its name. */
export const LaunchEmail = defineEntity({
  name: "LaunchEmail",
  tableName: "launch_email",
  properties: {
    launchId: p.uuid().primary(),
    key: p.text().primary(),
    version: p.integer(),
    draft: p.json().$type<EmailContent>(),
    /** As it is sent; nothing goes without. */
    published: p.json().$type<EmailContent>().nullable(),
    publishedAt: at().nullable(),
  },
});

/** How far a sequence of a launch has looked for people's moments, and since when it runs. */
export const LaunchSequence = defineEntity({
  name: "LaunchSequence",
  tableName: "launch_sequence",
  properties: {
    launchId: p.uuid().primary(),
    key: p.text().primary(),
    since: at(),
    lookedAt: at(),
    /** The version of the launch's settings whose steps are queued. */
    version: p.integer(),
  },
});
/** Who is in a sequence, and the moment from which its steps are counted for them. */
export const SequencePerson = defineEntity({
  name: "SequencePerson",
  tableName: "sequence_person",
  properties: { launchId: p.uuid().primary(), key: p.text().primary(), contactId: p.uuid().primary(), moment: at() },
});

export type EmailMessage = InferEntity<typeof EmailMessage>;
export type LaunchEmail = InferEntity<typeof LaunchEmail>;
