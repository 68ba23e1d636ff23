import { simpleParser } from "mailparser";
import type { Logger } from "pino";
import { SMTPServer } from "smtp-server";
import { bounceOf, type ReturnedMail } from "../core/emails";

/** An email of ours that came back, by the address it came back to. */
export interface Returned {
  to: string;
  what: ReturnedMail;
}

export interface ReturnsListener {
  stop(): Promise<void>;
}

/** Header-like fields, in groups with a blank line between them (RFC 3464 §2.1); names in small letters. */
const fieldGroups = (text: string): Map<string, string>[] =>
  text
    .replace(/\r\n/g, "\n")
    .replace(/\n[ \t]+/g, " ")
    .split(/\n\s*\n/)
    .map((group) => new Map(group.split("\n").flatMap((line): [string, string][] => (line.includes(":") ? [fieldOf(line)] : []))))
    .filter(({ size }) => size > 0);
const fieldOf = (line: string): [string, string] => {
  const at = line.indexOf(":");
  return [line.slice(0, at).trim().toLowerCase(), line.slice(at + 1).trim()];
};

const longestSays = 300;

/**
 * What a mail says has come back: the first report of a delivery that failed (RFC 3464), or a complaint (RFC 5965). Undefined for anything else, such as an
 * automatic answer, or a report of a delay.
 */
export const readReturned = async (raw: Buffer): Promise<ReturnedMail | undefined> => {
  const { attachments } = await simpleParser(raw, { keepDeliveryStatus: true, skipHtmlToText: true, skipTextToHtml: true, skipImageLinks: true });
  const part = (type: string) => attachments.find(({ contentType }) => contentType === type)?.content.toString("utf8");
  const feedback = part("message/feedback-report");
  if (feedback !== undefined) {
    const type = fieldGroups(feedback)[0]?.get("feedback-type") ?? "";
    // Other types than these two say that a mail was no spam, or concern a signature (RFC 5965 §7.3).
    return /^(abuse|fraud)$/i.test(type) ? { is: "complaint", says: type } : undefined;
  }
  const [, ...recipients] = fieldGroups(part("message/delivery-status") ?? "");
  for (const of of recipients) {
    const status = /\d\.\d{1,3}\.\d{1,3}/.exec(of.get("status") ?? "")?.[0] ?? "";
    const says = (of.get("diagnostic-code") ?? of.get("status") ?? "").replace(/^[\w-]+;\s*/, "").slice(0, longestSays);
    const found = bounceOf({ action: of.get("action") ?? "", status, says });
    if (found) return found;
  }
  return undefined;
};

/**
 * Takes mail that comes back, over SMTP. Only addresses that `accepts` knows are taken, so that nothing can be relayed or filled with rubbish; where `take`
 * throws, the sending server is asked to come again.
 */
export const listenForReturns = (
  { host, port }: { host: string; port: number },
  accepts: (address: string) => boolean,
  take: (returned: Returned) => Promise<void>,
  log: Logger,
): ReturnsListener => {
  const refusal = (responseCode: number, text: string) => Object.assign(new Error(text), { responseCode });
  let stopped = false;
  let again: NodeJS.Timeout | undefined;
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ["AUTH", "STARTTLS"],
    disableReverseLookup: true,
    logger: false,
    size: 2_000_000,
    maxClients: 50,
    socketTimeout: 30_000,
    onRcptTo({ address }, _session, done) {
      done(accepts(address) ? null : refusal(550, "5.1.1 No such address here"));
    },
    onData(stream, { envelope }, done) {
      const chunks: Buffer[] = [];
      stream.on("data", (chunk: Buffer) => void (stream.sizeExceeded || chunks.push(chunk)));
      stream.on("end", () => {
        if (stream.sizeExceeded) return done(refusal(552, "5.3.4 Too large for a report"));
        readReturned(Buffer.concat(chunks))
          .then(async (what) => {
            if (what) for (const { address } of envelope.rcptTo) await take({ to: address, what });
          })
          .then(
            () => done(),
            (error: unknown) => {
              log.error({ error: error instanceof Error ? error.name : "unknown" }, "returned mail was not taken; its server is asked to come again");
              done(refusal(451, "4.3.0 Come again later"));
            },
          );
      });
    },
  });
  const listen = () => server.listen(port, host);
  server.on("error", (error: Error & { code?: string }) => {
    // Another worker of this machine listens: this one takes over when that one ends.
    if (error.code === "EADDRINUSE" && !stopped) again = setTimeout(listen, 10_000);
    else if (!/ECONNRESET|EPIPE/.test(error.code ?? "")) log.error({ code: error.code }, "the listener for returned mail stumbled; it goes on");
  });
  listen();
  return {
    async stop() {
      stopped = true;
      clearTimeout(again);
      await new Promise<void>((done) => server.close(() => done()));
    },
  };
};
