// What a mail server sends back of an email: that it could not be delivered (RFC 3464), or that its reader reported it (RFC 5965).
import { randomUUID } from "node:crypto";
import { createTransport } from "nodemailer";

/** What happens to emails for some addresses, by how they begin. */
export const fates = {
  gone: { bounces: true, status: "5.1.1", code: "smtp; 550 5.1.1 The account does not exist" },
  full: { bounces: true, status: "5.2.2", code: "smtp; 552 5.2.2 Mailbox full" },
  annoyed: { bounces: false, status: "", code: "" },
} as const;
export type Fate = keyof typeof fates;

/** The fate of an address such as gone@, gone.2@ or gone+x@. */
export const fateOf = (address: string): Fate | undefined => {
  const start = /^([a-z]+)(?=[@.+])/.exec(address.toLowerCase())?.[1];
  return start !== undefined && Object.hasOwn(fates, start) ? (start as Fate) : undefined;
};

interface Arrived {
  from: string;
  to: string;
  raw: Buffer;
}

const headersOf = (raw: Buffer): string => raw.subarray(0, Math.max(0, raw.indexOf("\r\n\r\n"))).toString("latin1");

const part = (type: string, ...lines: string[]): string[] => [`Content-Type: ${type}`, "", ...lines, ""];
const report = (to: string, subject: string, type: string, parts: string[][]): string => {
  const border = `report-${randomUUID()}`;
  return [
    "From: Mail Delivery <mailer-daemon@mail.localhost>",
    `To: ${to}`,
    `Subject: ${subject}`,
    `Date: ${new Date().toUTCString().replace("GMT", "+0000")}`,
    `Message-ID: <${randomUUID()}@mail.localhost>`,
    "Auto-Submitted: auto-replied",
    "MIME-Version: 1.0",
    `Content-Type: multipart/report; report-type=${type}; boundary="${border}"`,
    "",
    ...parts.flatMap((lines) => [`--${border}`, ...lines]),
    `--${border}--`,
    "",
  ].join("\r\n");
};

const bounce = ({ from, to, raw }: Arrived, { status, code }: { status: string; code: string }): string =>
  report(from, "Undelivered mail", "delivery-status", [
    part("text/plain; charset=utf-8", `Your mail to ${to} was not delivered.`, code),
    part(
      "message/delivery-status",
      "Reporting-MTA: dns; mail.localhost",
      "",
      `Final-Recipient: rfc822; ${to}`,
      "Action: failed",
      `Status: ${status}`,
      `Diagnostic-Code: ${code}`,
    ),
    part("text/rfc822-headers", headersOf(raw)),
  ]);
const complaint = ({ from, to, raw }: Arrived): string =>
  report(from, "Reported mail", "feedback-report", [
    part("text/plain; charset=utf-8", `A reader at ${to} reported this mail.`),
    part(
      "message/feedback-report",
      "Feedback-Type: abuse",
      "User-Agent: StandIn/1",
      "Version: 1",
      `Original-Mail-From: <${from}>`,
      `Original-Rcpt-To: <${to}>`,
    ),
    part("message/rfc822", raw.toString("latin1")),
  ]);

/** Sends back what becomes of an email that was taken, if anything does, to where it is to come back. */
export const sendBack = async (url: string, mail: Arrived): Promise<void> => {
  const fate = fateOf(mail.to);
  if (!fate || !mail.from) return;
  const raw = fates[fate].bounces ? bounce(mail, fates[fate]) : complaint(mail);
  const transport = createTransport(url);
  // A report has no sender, so that none is ever answered by another (RFC 5321 §4.5.5).
  await transport.sendMail({ envelope: { from: "", to: mail.from }, raw });
  transport.close();
};
