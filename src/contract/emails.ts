import { z } from "zod";
import { emailKindNames } from "../core/emails";
import { get, post, wholeDocument } from "./endpoint";

const instant = z.coerce.date();

/** What became of the emails of a launch, by kind, and on bells and in sequences by email; how many people are in each sequence. */
const figures = z.object({
  kind: z.enum(emailKindNames),
  email: z.string().nullable(),
  sent: z.number(),
  bounced: z.number(),
  complained: z.number(),
  due: z.number(),
  stopped: z.record(z.string(), z.number()),
  unknown: z.number(),
});
export type EmailFigures = z.infer<typeof figures>;
export const readEmailFigures = get("[slug]/emails/figures", {
  answer: z.object({ figures: z.array(figures), inSequences: z.record(z.string(), z.number()) }),
});

/** Through whose eyes an email is read, and whether its draft is, where another is published. */
const looked = z.object({ to: z.uuid().optional(), draft: z.stringbool().optional() });
/** An email of a launch as somebody gets it, at the instant at which it goes to them. */
export const previewEmail = get("[slug]/emails/[email]", {
  request: looked,
  answer: z.object({
    subject: z.string(),
    text: z.string(),
    /** When it goes to them; null where no clock of theirs has started. */
    at: instant.nullable(),
    /** Their zone, where it is known. */
    zone: z.string().nullable(),
    /** Why it does not go to them. */
    stop: z.string().nullable(),
  }),
});
/** Sends an email of a launch to the address of whoever asks for it, as it would go out; answers to which. */
export const sendTestEmail = post("[slug]/emails/[email]/test", {
  permission: "launch.edit",
  request: z.object({ to: z.uuid().optional(), draft: z.boolean().optional() }),
  answer: z.object({ to: z.string() }),
  refusals: ["test_not_sent"],
});
/** Keeps the draft of an email as it is typed; its blocks are checked one by one by the use case, which says where one does not fit. */
export const saveEmailDraft = post("[slug]/emails/[email]/draft", {
  refusals: ["archived", "changed_meanwhile"],
  permission: "launch.edit",
  request: z.object({ content: z.unknown(), version: z.number().int().min(0) }),
  answer: z.object({ version: z.number() }),
  mostBytes: wholeDocument,
});
/** Makes the draft of an email what is sent from now on, where it is still the version that was looked at. */
export const publishEmail = post("[slug]/emails/[email]/publish", {
  refusals: ["archived", "changed_meanwhile", "gap"],
  permission: "launch.edit",
  request: z.object({ version: z.number().int() }),
});
