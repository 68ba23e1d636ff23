import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { Condition } from "../../core/conditions";
import type { EmailContent, EmailData, EmailKindName, EmailVariant, OneOffState } from "../../core/emails";
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
    /** Which of two variants it was; null where there was one. */
    variant: p.text().$type<EmailVariant>().nullable(),
    /** The closing of the doors that it stated to its reader; empty where it stated none. */
    statedClosing: at().nullable(),
    /** What came back of it: that it was not delivered, or that its reader reported it, in the words of the server that said so. */
    bounce: p.text().$type<"hard" | "soft">().nullable(),
    bouncedAt: at().nullable(),
    complainedAt: at().nullable(),
    /** When its pictures were first fetched, by its reader or by a program. */
    openedAt: at().nullable(),
    /** When its reader unsubscribed by its link. */
    leftAt: at().nullable(),
    returnSays: p.text().nullable(),
  },
});
/** One press of a link of an email. */
export const EmailClick = defineEntity({
  name: "EmailClick",
  tableName: "email_click",
  properties: {
    id: p.uuid().primary(),
    emailId: p.uuid(),
    link: p.text(),
    at: at(),
    /** From when it counts as a person's; null until its page was seen. */
    countsAt: at().nullable(),
    /** Of a program that looks at mail before its reader. */
    machine: p.boolean().default(false),
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
    /** How many of its readers get it, against the other variant. */
    weight: p.integer().default(1),
  },
});

/** An email that goes once, to those who meet a condition. What it says stands with the launch's other emails, under its id. */
export const OneOffEmail = defineEntity({
  name: "OneOffEmail",
  tableName: "one_off_email",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    /** Whom it goes to; everybody who may be written to, where it is null. */
    condition: p.json().$type<Condition>().nullable(),
    /** When it goes, as it was typed: at once where it is null, at a wall time of the launch's zone, or of each reader's own. */
    wall: p.text().nullable(),
    byZone: p.boolean().default(false),
    /** The instant at which it goes, from when on it was said that it does; null where that is each reader's own. */
    at: at().nullable(),
    /** When it begins: to whoever's zone comes first. */
    beginsAt: at().nullable(),
    state: p.text().$type<OneOffState>().default("draft"),
    queued: p.integer().default(0),
    /** The last contact of the slice that was queued last. */
    queuedAfter: p.uuid().nullable(),
    startedAt: at().nullable(),
    /** From when on nobody is left to queue it for. */
    queuedAt: at().nullable(),
    createdAt: at(),
    version: p.integer().default(1),
  },
});

/** What an email says, kept under a name for every launch. */
export const EmailTemplate = defineEntity({
  name: "EmailTemplate",
  tableName: "email_template",
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    content: p.json().$type<EmailContent>(),
    createdAt: at(),
    userId: p.uuid().nullable(),
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
export type OneOffEmail = InferEntity<typeof OneOffEmail>;
export type LaunchEmail = InferEntity<typeof LaunchEmail>;
