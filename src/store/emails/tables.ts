import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { EmailData, EmailKindName } from "../../core/emails";
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
    /** The worker that has it in hand, and since when its content may be on its way. */
    takenBy: p.uuid().nullable(),
    handedAt: at().nullable(),
    data: p.json().$type<EmailData[EmailKindName]>(),
    sentAt: at().nullable(),
  },
});

export type EmailMessage = InferEntity<typeof EmailMessage>;
