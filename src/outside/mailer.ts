import { createTransport } from "nodemailer";
import { z } from "zod";

export interface OutgoingMail {
  to: string;
  from: { name: string; address: string };
  subject: string;
  text: string;
  html: string;
  /** Stable per message, so that a message sent twice after a crash is recognised as one. */
  messageId: string;
  /** The message that this one goes on from. */
  references?: string;
  /** Where it comes back to when it cannot be delivered (RFC 5321 §3.3); without it, to the sender. */
  returnPath?: string;
  /** By what it is signed (RFC 6376). */
  dkim?: DkimSigner;
  /** One-click unsubscribe address (RFC 8058), with its RFC 2369 header. */
  unsubscribe?: string;
}

/** A key that signs mail of a domain; its public half stands in the DNS under the selector. */
export interface DkimSigner {
  domainName: string;
  keySelector: string;
  /** PEM. */
  privateKey: string;
}

/**
 * What became of a mail that was not surely taken. `later`: the server did not take it, and may another time. `never`: it
 * will not take it (RFC 5321 §4.2.1, a reply of 5xx). `unknown`: the connection ended after the content was handed over
 * and before the server's word.
 */
export class MailFailed extends Error {
  override name = "MailFailed";
  constructor(
    readonly outcome: "later" | "never" | "unknown",
    message: string,
    /** Whether the address itself was refused: it is nobody's. */
    readonly noSuchAddress = false,
  ) {
    super(message);
  }
}

/** Mail to one person (receipts, confirmations, links) never waits behind mail to many. */
export type MailLane = "personal" | "bulk";

export interface Mailer {
  /** Sends one mail. Throws a `MailFailed` where the server has not said that it took it. */
  send(mail: OutgoingMail, lane: MailLane): Promise<void>;
  /** Ends its connections. */
  close(): void;
}

const failure = z.object({ responseCode: z.number().optional(), code: z.string().optional(), command: z.string().optional() });

/** Whether the server refused the recipient as nobody it knows (RFC 5321 §4.2.3). */
const isNobody = (error: unknown): boolean => {
  const { responseCode, command } = failure.catch({}).parse(error);
  return command === "RCPT TO" && [550, 551, 553].includes(responseCode ?? 0);
};

/** What an error of the transport means, and whether any of the content had been on its way (RFC 5321 §3.3). */
const outcomeOf = (error: unknown, begun: boolean): MailFailed["outcome"] => {
  const { responseCode, code } = failure.catch({}).parse(error);
  if (responseCode) return responseCode >= 500 ? "never" : "later";
  if (code === "EENVELOPE" || code === "EMESSAGE") return "never";
  return begun ? "unknown" : "later";
};

/** A mail on its way: told when the first of its content is read to be sent. */
type Watched = { begun?: () => void };

/** Letters of other scripts in a row: whether their text is shorter in one encoding or the other is worth counting. */
const otherScript = /\P{ASCII}{4}/u;

/** Mail over SMTP, by connections that are kept open: some for each lane. */
export const smtpMailer = (url: string): Mailer => {
  const lane = (maxConnections: number) => {
    const transport = createTransport({
      url,
      pool: true,
      maxConnections,
      maxMessages: 10_000,
      connectionTimeout: 10_000,
      greetingTimeout: 10_000,
      socketTimeout: 30_000,
      disableFileAccess: true,
      disableUrlAccess: true,
    });
    transport.use("stream", (mail, done) => {
      const { begun } = mail.data as Watched;
      const make = mail.message.createReadStream.bind(mail.message);
      // The content is piped on its way once the server has asked for it.
      mail.message.createReadStream = (...options) => {
        const content = make(...options);
        const pipe = content.pipe.bind(content);
        content.pipe = (to, how) => {
          begun?.();
          return pipe(to, how);
        };
        return content;
      };
      done();
    });
    return transport;
  };
  const lanes: Record<MailLane, ReturnType<typeof lane>> = { personal: lane(3), bulk: lane(6) };
  return {
    async send({ unsubscribe, returnPath, ...mail }, by) {
      const headers = unsubscribe ? { "List-Unsubscribe": `<${unsubscribe}>`, "List-Unsubscribe-Post": "List-Unsubscribe=One-Click" } : {};
      let begun = false;
      const watched: Watched = { begun: () => (begun = true) };
      try {
        // Told rather than counted letter by letter, which costs a tenth of sending to many.
        const textEncoding = otherScript.test(mail.subject + mail.text) ? undefined : "quoted-printable";
        const envelope = { from: returnPath ?? mail.from.address, to: mail.to };
        await lanes[by].sendMail({ ...mail, envelope, headers, textEncoding, ...watched });
      } catch (error) {
        throw new MailFailed(outcomeOf(error, begun), error instanceof Error ? error.message : String(error), isNobody(error));
      }
    },
    close() {
      for (const one of Object.values(lanes)) one.close();
    },
  };
};
