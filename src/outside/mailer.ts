import { createTransport } from "nodemailer";

export interface OutgoingMail {
  to: string;
  from: string;
  subject: string;
  text: string;
  html: string;
  /** Stable per message, so that a message sent twice after a crash is recognised as one. */
  messageId: string;
  /** One-click unsubscribe address (RFC 8058), with its RFC 2369 header. */
  unsubscribe?: string;
}

export interface Mailer {
  send(mail: OutgoingMail): Promise<void>;
}

/** Mail over SMTP. */
export const smtpMailer = (url: string): Mailer => {
  const transport = createTransport(url, { disableFileAccess: true, disableUrlAccess: true });
  return {
    async send({ unsubscribe, ...mail }) {
      const headers = unsubscribe ? { "List-Unsubscribe": `<${unsubscribe}>`, "List-Unsubscribe-Post": "List-Unsubscribe=One-Click" } : {};
      await transport.sendMail({ ...mail, headers });
    },
  };
};
