// A mail server to try things on: takes mail over SMTP, and shows it. It can be made slow, busy, or end connections at bad moments.
import { simpleParser } from "mailparser";
import { join } from "node:path";
import { SMTPServer } from "smtp-server";
import { page, safe, serve, type Call, type Reply } from "../shared/server";
import { setting } from "../shared/store";
import { Box, type Email } from "./box";
import { followAll } from "./machine";
import { sendBack } from "./reports";

const box = new Box(join(setting("DATA"), "mail.jsonl"));

const moods = {
  well: "answers at once",
  slow: "answers after two seconds",
  busy: "asks to come again later (451)",
  refuses: "takes nothing (550)",
  cut: "takes an email, and ends the connection without a word",
} as const;
type Mood = keyof typeof moods;
let mood: Mood = "well";

/** How often mail was offered to addresses that take it the third time. */
const triesOf = new Map<string, number>();

const wait = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));
const refusal = (code: number, text: string) => Object.assign(new Error(text), { responseCode: code });

const smtp = new SMTPServer({
  authOptional: true,
  disabledCommands: ["STARTTLS", "AUTH"],
  disableReverseLookup: true,
  logger: false,
  maxClients: 200,
  onRcptTo({ address }, _session, done) {
    // Some addresses are nobody's, or busy at first, so that a refusal can be tried on one email.
    if (/^nobody[@.+]/.test(address)) return done(refusal(550, "5.1.1 No such user"));
    if (!/^later[@.+]/.test(address)) return done();
    const tries = (triesOf.get(address) ?? 0) + 1;
    triesOf.set(address, tries);
    done(tries <= 2 ? refusal(451, "4.7.1 Come again later") : null);
  },
  onData(stream, session, done) {
    const chunks: Buffer[] = [];
    stream.on("data", (chunk: Buffer) => chunks.push(chunk));
    stream.on("end", () => {
      const take = async (): Promise<void> => {
        if (mood === "busy") throw refusal(451, "Come again later");
        if (mood === "refuses") throw refusal(550, "Not taken");
        if (mood === "slow") await wait(2_000);
        const { mailFrom, rcptTo } = session.envelope;
        if (rcptTo.some(({ address }) => /^slow[@.+]/.test(address))) await wait(5_000);
        const mail = { from: mailFrom ? mailFrom.address : "", to: rcptTo.map(({ address }) => address).join(", "), raw: Buffer.concat(chunks) };
        box.take(mail.from, mail.to, mail.raw);
        if (/^machine[@.+]/.test(mail.to)) void followAll(mail.raw);
        const { RETURNS_URL: back } = process.env;
        if (back)
          setTimeout(() => void sendBack(back, mail).catch((error: Error) => console.error(`mail: a report was not taken: ${error.message}`)), 1_000);
      };
      take().then(
        () => {
          if (mood === "cut")
            (this as unknown as { connections: Set<{ _socket: { destroy(): void } }> }).connections.forEach((one) => one._socket.destroy());
          else done();
        },
        (error: Error) => done(error),
      );
    });
  },
});
smtp.on("error", (error) => {
  // A client that is killed resets its connection.
  if (!/ECONNRESET|EPIPE/.test(error.message)) console.error(`mail: ${error.message}`);
});
smtp.listen(Number(setting("SMTP_PORT")), "127.0.0.1");

const parsed = async (email: Email) => {
  const raw = box.rawOf(email);
  const mail = await simpleParser(raw);
  return {
    ...email,
    from: mail.from?.text ?? email.from,
    subject: mail.subject ?? "",
    text: mail.text ?? "",
    html: mail.html || "",
    headers: Object.fromEntries(mail.headerLines.map(({ key, line }) => [key, line.slice(line.indexOf(":") + 1).trim()])),
    raw: raw.toString("utf8"),
  };
};
const to = (call: Call): Email[] => box.emails.filter((email) => email.to.includes(call.url.searchParams.get("to") ?? ""));

const inbox = async (call: Call): Promise<Reply> => {
  const shown = await Promise.all(to(call).slice(-200).reverse().map(parsed));
  const rows = shown
    .map(
      (l) =>
        `<tr><td>${safe(l.received.slice(0, 19).replace("T", " "))}</td><td>${safe(l.to)}</td><td><a href="/emails/${l.id}">${safe(l.subject)}</a>${l.copies > 1 ? ` (came ${l.copies} times)` : ""}</td></tr>`,
    )
    .join("");
  const choices = Object.entries(moods).map(([name, says]) => `<option value="${name}"${name === mood ? " selected" : ""}>${name}: ${says}</option>`);
  return {
    html: page(
      "Inbox",
      `<h1>Inbox</h1><p class="note">A mail server to try things on: every email the app sends arrives here, and goes no further. Addresses that begin with <code>gone</code> (does not exist) or <code>full</code> (mailbox full) bounce after a second, <code>annoyed</code> reports the email as spam, <code>nobody</code> is refused at once, <code>later</code> takes it the third time, <code>slow</code> after five seconds; <code>machine</code> is guarded by a program that follows every link at once: gone.1@example.com.</p>
      <form method="post" action="/behave" class="panel"><label for="mood">How it behaves</label><select id="mood" name="mood">${choices.join("")}</select> <p><button>So from now on</button></p></form>
      <h2>Emails</h2><table><tr><th>When, UTC</th><th>To</th><th>Subject</th></tr>${rows || "<tr><td colspan=3>No email yet.</td></tr>"}</table>`,
    ),
  };
};
const read = async (id: string): Promise<Reply> => {
  const found = box.emails.find((other) => other.id === id);
  if (!found) return { status: 404, html: page("Not found", "<h1>No such email</h1>") };
  const email = await parsed(found);
  const unsubscribe = email.headers["list-unsubscribe"];
  return {
    html: page(
      email.subject,
      `<p><a href="/">All emails</a></p><h1>${safe(email.subject)}</h1><p class="note">From ${safe(email.from)} to ${safe(email.to)}${unsubscribe ? `<br>List-Unsubscribe: <code>${safe(unsubscribe)}</code>` : ""}</p><p><a href="/emails/${email.id}/raw">As it came over the wire</a></p><div class="panel">${email.html}</div><h2>Its text part</h2><pre>${safe(email.text)}</pre>`,
    ),
    headers: { "content-security-policy": "script-src 'none'" },
  };
};
const raw = (id: string): Reply => {
  const found = box.emails.find((other) => other.id === id);
  if (!found) return { status: 404, html: page("Not found", "<h1>No such email</h1>") };
  return {
    html: page(
      `Email ${found.id}`,
      `<p><a href="/emails/${found.id}">As it is read</a></p><p class="note">Returns to ${safe(found.from)}</p><pre>${safe(box.rawOf(found).toString("utf8"))}</pre>`,
    ),
  };
};
const behave = ({ body }: Call): Reply => {
  const asked = new URLSearchParams(body).get("mood") ?? "";
  if (Object.hasOwn(moods, asked)) mood = asked as Mood;
  return { location: "/" };
};

serve(
  "mail",
  Number(setting("PORT")),
  [
    ["GET", /^\/$/, inbox],
    ["POST", /^\/behave$/, behave],
    ["GET", /^\/healthz$/, () => ({ json: { ok: true } })],
    ["GET", /^\/emails\/(\d+)$/, (call) => read(call.params[0]!)],
    ["GET", /^\/emails\/(\d+)\/raw$/, (call) => raw(call.params[0]!)],
    ["GET", /^\/api\/emails$/, async (call) => ({ json: { emails: await Promise.all(to(call).map(parsed)) } })],
    // Counts alone: each email to an address once, and every yes that was said.
    ["GET", /^\/api\/count$/, (call) => ({ json: { emails: to(call).length, accepted: to(call).reduce((sum, { copies }) => sum + copies, 0) } })],
  ],
  async () => {
    await new Promise<void>((done) => smtp.close(() => done()));
    box.close();
  },
);
