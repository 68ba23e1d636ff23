// A mail server to try things on: takes mail over SMTP, and shows it.
import { simpleParser } from "mailparser";
import { join } from "node:path";
import { SMTPServer } from "smtp-server";
import { page, safe, serve, type Reply } from "../shared/server";
import { setting, Store } from "../shared/store";

interface Letter {
  id: string;
  messageId: string;
  from: string;
  to: string;
  subject: string;
  text: string;
  html: string;
  headers: Record<string, string>;
  raw: string;
  received: string;
}

const store = new Store(join(setting("DATA"), "mail.json"), { letters: [] as Letter[] });
const { letters } = store.state;

const take = async (raw: Buffer): Promise<void> => {
  const mail = await simpleParser(raw);
  const messageId = mail.messageId ?? "";
  // As many mail servers do: a letter that is sent again under the same Message-ID is the same letter.
  if (messageId && letters.some((letter) => letter.messageId === messageId)) return;
  const address = (value: typeof mail.to) => (Array.isArray(value) ? value : value ? [value] : []).map((a) => a.text).join(", ");
  letters.push({
    id: String(letters.length + 1),
    messageId,
    from: mail.from?.text ?? "",
    to: address(mail.to),
    subject: mail.subject ?? "",
    text: mail.text ?? "",
    html: mail.html || "",
    headers: Object.fromEntries(mail.headerLines.map(({ key, line }) => [key, line.slice(line.indexOf(":") + 1).trim()])),
    raw: raw.toString("utf8"),
    received: new Date().toISOString(),
  });
  store.save();
};

const smtp = new SMTPServer({
  authOptional: true,
  disabledCommands: ["STARTTLS", "AUTH"],
  disableReverseLookup: true,
  logger: false,
  onData(stream, _session, done) {
    const chunks: Buffer[] = [];
    stream.on("data", (chunk: Buffer) => chunks.push(chunk));
    stream.on("end", () => take(Buffer.concat(chunks)).then(() => done(), done));
  },
});
smtp.on("error", (error) => console.error(`mail: ${error.message}`));
smtp.listen(Number(setting("SMTP_PORT")), "127.0.0.1");

const inbox = (to: string): Reply => {
  const shown = [...letters]
    .reverse()
    .filter((letter) => letter.to.includes(to))
    .slice(0, 200);
  const rows = shown
    .map(
      (l) =>
        `<tr><td>${safe(l.received.slice(0, 19).replace("T", " "))}</td><td>${safe(l.to)}</td><td><a href="/letters/${l.id}">${safe(l.subject)}</a></td></tr>`,
    )
    .join("");
  return {
    html: page(
      "Inbox",
      `<h1>Inbox</h1><p class="note">A mail server to try things on: every letter the app sends arrives here, and goes no further.</p><table><tr><th>When, UTC</th><th>To</th><th>Subject</th></tr>${rows || "<tr><td colspan=3>No letter yet.</td></tr>"}</table>`,
    ),
  };
};
const read = (id: string): Reply => {
  const letter = letters.find((other) => other.id === id);
  if (!letter) return { status: 404, html: page("Not found", "<h1>No such letter</h1>") };
  const unsubscribe = letter.headers["list-unsubscribe"];
  return {
    html: page(
      letter.subject,
      `<p><a href="/">All letters</a></p><h1>${safe(letter.subject)}</h1><p class="note">From ${safe(letter.from)} to ${safe(letter.to)}${unsubscribe ? `<br>List-Unsubscribe: <code>${safe(unsubscribe)}</code>` : ""}</p><div class="panel">${letter.html}</div>`,
    ),
    headers: { "content-security-policy": "script-src 'none'" },
  };
};

serve(
  "mail",
  Number(setting("PORT")),
  [
    ["GET", /^\/$/, (call) => inbox(call.url.searchParams.get("to") ?? "")],
    ["GET", /^\/healthz$/, () => ({ json: { ok: true } })],
    ["GET", /^\/letters\/(\d+)$/, (call) => read(call.params[0]!)],
    ["GET", /^\/api\/letters$/, (call) => ({ json: { letters: letters.filter((l) => l.to.includes(call.url.searchParams.get("to") ?? "")) } })],
  ],
  () => new Promise<void>((done) => smtp.close(() => done())),
);
