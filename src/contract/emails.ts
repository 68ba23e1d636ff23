import { z } from "zod";
import { emailContent, emailKindNames, emailVariants, oneOffStates } from "../core/emails";
import { fault } from "../core/words";
import { get, post, wholeDocument } from "./endpoint";
import { mostOfSentence } from "./people";

const instant = z.coerce.date();

/** What became of the emails of a launch, by kind, and on bells and in sequences by email. */
const figures = z.object({
  kind: z.enum(emailKindNames),
  email: z.string().nullable(),
  /** What conditions call it. */
  ref: z.string(),
  sent: z.number(),
  bounced: z.number(),
  complained: z.number(),
  left: z.number(),
  opened: z.number(),
  clicked: z.number(),
  byMachine: z.number(),
  orders: z.number(),
  /** What the orders brought, tax included, in minor units by currency. */
  revenue: z.partialRecord(z.string(), z.number()),
  due: z.number(),
  stopped: z.record(z.string(), z.number()),
  unknown: z.number(),
});
export type EmailFigures = z.infer<typeof figures>;
export const readEmailFigures = get("[slug]/emails/figures", {
  answer: z.object({
    figures: z.array(figures),
    /** What became of the two variants of emails that have them. */
    variants: z.array(
      z.object({
        key: z.string(),
        variant: z.enum(emailVariants),
        sent: z.number(),
        opened: z.number(),
        clicked: z.number(),
        orders: z.number(),
        revenue: z.partialRecord(z.string(), z.number()),
      }),
    ),
    /** How many people each sequence has taken in, and to how many a step is still to go. */
    inSequences: z.record(z.string(), z.object({ taken: z.number(), underWay: z.number() })),
    /** What went of each step, by spans of six hours. */
    steps: z.array(z.object({ step: z.string(), at: instant, sent: z.number() })),
  }),
});

/** The links of an email that were followed. */
export const readLinkFigures = get("[slug]/emails/[email]/links", {
  answer: z.object({ links: z.array(z.object({ link: z.string(), people: z.number(), clicks: z.number(), byMachine: z.number() })) }),
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
/** Adds a second variant of an email, which begins as the first one stands, or removes it. What has been sent of it stays counted. */
export const varyEmail = post("[slug]/emails/[email]/variant", {
  refusals: ["archived", "changed_meanwhile"],
  permission: "launch.edit",
  request: z.object({ to: z.enum(["add", "remove"]) }),
});
/** Says how many of its readers in a hundred get the second variant. */
export const weighEmail = post("[slug]/emails/[email]/weight", {
  refusals: ["archived"],
  permission: "launch.edit",
  request: z.object({ second: z.number().int().min(0).max(100) }),
});
/** Makes the draft of an email what is sent from now on, where it is still the version that was looked at. */
export const publishEmail = post("[slug]/emails/[email]/publish", {
  refusals: ["archived", "changed_meanwhile", "gap"],
  permission: "launch.edit",
  request: z.object({ version: z.number().int() }),
});

const sentence = z.string().trim().max(mostOfSentence);
/** The emails of a launch that go once. */
export const listOneOffs = get("[slug]/one-offs", {
  answer: z.object({
    oneOffs: z.array(
      z.object({
        id: z.string(),
        who: z.string(),
        wall: z.string().nullable(),
        byZone: z.boolean(),
        at: instant.nullable(),
        state: z.enum(oneOffStates),
        queued: z.number(),
        /** Whether nobody is left to queue it for. */
        allQueued: z.boolean(),
        version: z.number(),
      }),
    ),
  }),
});
/** Begins an email that goes once. */
export const addOneOff = post("[slug]/one-offs", {
  permission: "launch.edit",
  /** About what it is begun; null with nothing in it yet. */
  request: z.object({ about: z.literal("moved_closing").nullable() }),
  answer: z.object({ id: z.string() }),
  refusals: ["archived"],
});
/** The closing that holds, and what others people were last told by an email; none where each person has a clock of their own. */
export const readMovedClosing = get("[slug]/emails/closings", {
  answer: z.object({
    closes: instant.nullable(),
    told: z.array(z.object({ closing: instant, people: z.number(), mayWrite: z.number() })),
  }),
});
/** To how many those are whom a sentence asks for; and why the others of them get nothing. */
export const countRecipients = get("[slug]/one-offs/recipients", {
  request: z.object({ who: sentence }),
  answer: z.object({
    people: z.number(),
    recipients: z.number(),
    noConsent: z.number(),
    unsubscribed: z.number(),
    suppressed: z.number(),
    launchLeft: z.number(),
  }),
});
/** Keeps to whom and when an email that goes once is to go: now, or at a wall time of the launch or of each reader's own zone. */
export const saveOneOff = post("[slug]/one-offs/[id]", {
  permission: "launch.edit",
  request: z.object({
    who: sentence,
    wall: z
      .string()
      .regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, fault("moment"))
      .nullable(),
    byZone: z.boolean(),
    version: z.number().int(),
  }),
  answer: z.object({ version: z.number() }),
  refusals: ["archived", "changed_meanwhile"],
});
/** Sends it, or has it go at its time. */
export const scheduleOneOff = post("[slug]/one-offs/[id]/send", {
  permission: "launch.edit",
  request: z.object({ version: z.number().int() }),
  refusals: ["archived", "changed_meanwhile", "gap"],
});
/** Pauses an email while it goes out, lets it go on, or calls it off. */
export const holdOneOff = post("[slug]/one-offs/[id]/hold", {
  permission: "launch.edit",
  request: z.object({ to: z.enum(["pause", "resume", "cancel"]) }),
  refusals: ["archived", "changed_meanwhile"],
});
/** Forgets an email that never went to anybody. */
export const removeOneOff = post("[slug]/one-offs/[id]/remove", { permission: "launch.edit", refusals: ["archived", "changed_meanwhile"] });

/** Emails that are kept as templates, for every launch. */
export const listEmailTemplates = get("email-templates", {
  answer: z.object({ templates: z.array(z.object({ id: z.string(), name: z.string(), content: emailContent })) }),
});
/** Keeps an email's draft as a template. */
export const keepEmailTemplate = post("[slug]/emails/[email]/template", {
  permission: "launch.edit",
  request: z.object({ name: z.string().trim().min(1, fault("template_name_missing")).max(80) }),
  answer: z.object({ id: z.string() }),
});
/** Throws a template away. */
export const dropEmailTemplate = post("email-templates/[id]", { permission: "launch.edit", request: z.object({ drop: z.literal(true) }) });
