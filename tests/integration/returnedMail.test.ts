import { randomUUID } from "node:crypto";
import { createTransport } from "nodemailer";
import { authenticate } from "mailauth";
import { simpleParser } from "mailparser";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bellEmail, bounceOf } from "../../src/core/emails";
import { readReturned } from "../../src/outside/returnedMail";
import { wallTimeOf } from "../../src/core/launch";
import { bellEmailOf, queueBellEmail } from "../../src/server/launch/bellEmails";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { emailOfReturn, returnAddressOf, returnsListener, takeReturned } from "../../src/server/emails/returns";
import { changePreferences, preferencesOf } from "../../src/server/people";
import { correctPerson, resumeEmailsTo } from "../../src/server/people/changePerson";
import { correctable } from "../../src/server/people/contactOfPerson";
import { optIn } from "../../src/server/people/optIn";
import { personRecordOf } from "../../src/server/people/personRecord";
import { launchesOf } from "../../src/server/launch";
import { signerFor } from "../../src/server/platform";
import { changeSigning, signingOf } from "../../src/server/settings";
import { emailFigures } from "../../src/store/emails/emailFigures";
import { writeEmails } from "../../src/store/emails/launchEmails";
import { proveInbox } from "../../src/store/people/proveInbox";
import { Contact, EmailMessage } from "../../src/store/tables";
import { openLaunch, sendEmail, sentBy, setSettings, someone, startWorld, until, visitor, type World } from "../support/world";

let world: World;
let of: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  of = await openLaunch(world);
  await writeEmails(em(), of.launch.id, { news: bellEmail("News", "Words."), more: bellEmail("More", "Words.") }, now());
  const emails = ["news", "more"].map((id) => ({ id, hangsOn: "opening" as const, minutes: 0, time: null, to: "list" as const }));
  const wall = (days: number) => wallTimeOf(new Date(now().getTime() + days * 86_400_000), of.plan.zone);
  of = await setSettings(world, of, { emails, clock: { kind: "fixed", runUp: wall(-9), opens: wall(-0.1), closes: wall(9) } });
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const reader = async (name: string): Promise<Contact> => {
  const email = `${name}.${randomUUID().slice(0, 8)}@heddle.example`;
  await optIn(em(), of, { email, firstName: "Una", answers: {} }, sentBy(visitor().visitorId, now(), { page: "" }));
  return em().findOneOrFail(Contact, { email });
};
const contact = (to: { id: string }) => em().findOneOrFail(Contact, { id: to.id });
/** Queues an email to many for somebody, and sends it. */
const send = async (to: { id: string }, id = "news"): Promise<EmailMessage> => {
  await queueBellEmail(em(), of, bellEmailOf(of.plan, id)!, undefined, { dueAt: now(), lastCall: false }, { after: null, most: 1_000 });
  const queued = await em().findOneOrFail(EmailMessage, { contactId: to.id, kind: "bell", data: { email: id } });
  if (queued.state === "due") await sendEmail(world, queued.id);
  return em().findOneOrFail(EmailMessage, { id: queued.id });
};
const rawOf = async (to: { email: string }): Promise<string> => {
  const answer = await fetch(`${world.settings["MAIL_INBOX_URL"]}/api/emails?to=${encodeURIComponent(to.email)}`);
  return ((await answer.json()) as { emails: { raw: string }[] }).emails.at(-1)!.raw;
};

// The example of RFC 3464, Appendix E, "Simple DSN"; its text part is shortened. Value from memory.
const published = [
  "From: Mail Delivery Subsystem <MAILER-DAEMON@CS.UTK.EDU>",
  "To: <owner-info-mime@cs.utk.edu>",
  "Subject: Returned mail: Cannot send message for 5 days",
  "MIME-Version: 1.0",
  'Content-Type: multipart/report; report-type=delivery-status; boundary="RAA14128.773615765/CS.UTK.EDU"',
  "",
  "--RAA14128.773615765/CS.UTK.EDU",
  "",
  "The original message was received at Sat, 2 Jul 1994 17:10:28 -0400",
  "",
  "--RAA14128.773615765/CS.UTK.EDU",
  "content-type: message/delivery-status",
  "",
  "Reporting-MTA: dns; cs.utk.edu",
  "",
  "Original-Recipient: rfc822;louisl@larry.slip.umd.edu",
  "Final-Recipient: rfc822;louisl@larry.slip.umd.edu",
  "Action: failed",
  "Status: 4.0.0",
  "Diagnostic-Code: smtp; 426 connection timed out",
  "Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400",
  "",
  "--RAA14128.773615765/CS.UTK.EDU",
  "content-type: message/rfc822",
  "",
  "From: louisl@cs.utk.edu",
  "",
  "[original message goes here]",
  "--RAA14128.773615765/CS.UTK.EDU--",
  "",
].join("\r\n");

describe("a report", () => {
  it("of RFC 3464 is read: failed by a temporary cause is a soft bounce, a delay is none, and an automatic answer is nothing", async () => {
    expect(await readReturned(Buffer.from(published))).toEqual({ is: "bounce", hard: false, says: "426 connection timed out" });
    expect(await readReturned(Buffer.from(published.replace("Status: 4.0.0", "Status: 5.1.1")))).toMatchObject({ hard: true });
    expect(await readReturned(Buffer.from(published.replace("Action: failed", "Action: delayed")))).toBeUndefined();
    expect(await readReturned(Buffer.from("Subject: I am away\r\n\r\nUntil Monday.\r\n"))).toBeUndefined();
    // RFC 3463: a full mailbox and a refusal by policy are permanent, and say nothing against the address.
    for (const status of ["5.2.2", "5.7.1", "4.4.7"]) expect(bounceOf({ action: "failed", status, says: "" })).toMatchObject({ hard: false });
  });
  it("of RFC 5965 is a complaint, unless it says that the mail was no spam", async () => {
    const arf = (type: string) =>
      Buffer.from(
        published
          .replace("report-type=delivery-status", "report-type=feedback-report")
          .replace("content-type: message/delivery-status", "content-type: message/feedback-report")
          .replace("Reporting-MTA: dns; cs.utk.edu", `Feedback-Type: ${type}\r\nUser-Agent: SomeGenerator/1.0\r\nVersion: 1`),
      );
    expect(await readReturned(arf("abuse"))).toEqual({ is: "complaint", says: "abuse" });
    expect(await readReturned(arf("not-spam"))).toBeUndefined();
  });
  it("comes back to an address that only this installation can make", () => {
    const id = randomUUID();
    const address = returnAddressOf(world.app, id)!;
    expect(address.split("@")[0]!.length).toBeLessThanOrEqual(64);
    expect(emailOfReturn(world.app, address.toUpperCase())).toBe(id);
    for (const wrong of [
      address.replace(/\.[\da-f]{16}@/, ".0123456789abcdef@"),
      address.replace(/@.*/, "@other.example"),
      `x${address}`,
      "r@returns.localhost",
    ])
      expect(emailOfReturn(world.app, wrong)).toBeUndefined();
  });
});

describe("mail that comes back", () => {
  it("over SMTP ends mail to many to an address that does not exist, and to a reader who reported it; personal mail goes on", async () => {
    const listener = returnsListener(world.app)!;
    try {
      const [gone, full, annoyed] = [await reader("gone"), await reader("full"), await reader("annoyed")];
      for (const one of [gone, full, annoyed]) expect((await send(one)).state).toBe("sent");
      await until(async () => (await contact(gone)).suppressedAt && (await contact(annoyed)).unsubscribedAt);
      await until(async () => (await em().findOneOrFail(EmailMessage, { contactId: full.id, kind: "bell" })).bouncedAt);
      expect(await contact(gone)).toMatchObject({ suppressedBecause: "bounced", unsubscribedAt: null });
      expect(await contact(annoyed)).toMatchObject({ suppressedBecause: "complained" });
      expect((await contact(full)).suppressedAt).toBeNull();
      expect(await em().findOneOrFail(EmailMessage, { contactId: gone.id, kind: "bell" })).toMatchObject({
        bounce: "hard",
        returnSays: "550 5.1.1 The account does not exist",
      });
      const figures = (await emailFigures(em(), of.launch.id, now())).find(({ email }) => email === "news");
      expect(figures).toMatchObject({ bounced: 2, complained: 1 });
      expect((await personRecordOf(em(), gone.personId, now())).contact!.suppressed).toMatchObject({ because: "bounced" });
      // Whoever is not written to any more is not queued; what waited already stops.
      await em().execute("update email_message set key = key || ':old' where contact_id = ? and kind = 'bell'", [full.id]);
      expect((await send(full, "more")).state).toBe("sent");
      await queueBellEmail(em(), of, bellEmailOf(of.plan, "more")!, undefined, { dueAt: now(), lastCall: false }, { after: null, most: 1_000 });
      expect(await em().count(EmailMessage, { contactId: gone.id, data: { email: "more" } })).toBe(0);
    } finally {
      await listener.stop();
    }
  });
  it("is taken for none of an address that was made up, and from nobody who sends too much", async () => {
    const listener = returnsListener(world.app)!;
    const transport = createTransport({ host: "127.0.0.1", port: Number(world.settings["INKBELL_RETURN_PORT"]) });
    try {
      const one = await reader("una");
      const { id } = await send(one);
      const address = returnAddressOf(world.app, id)!;
      const made = address.replace(/\.[\da-f]{16}@/, ".0123456789abcdef@");
      await expect(transport.sendMail({ envelope: { from: "", to: made }, raw: published })).rejects.toMatchObject({ responseCode: 550 });
      await expect(transport.sendMail({ envelope: { from: "", to: "owner@marram.example" }, raw: published })).rejects.toMatchObject({
        responseCode: 550,
      });
      await expect(transport.sendMail({ envelope: { from: "", to: address }, raw: `${published}${"x".repeat(2_100_000)}` })).rejects.toMatchObject({
        responseCode: 552,
      });
      await transport.sendMail({ envelope: { from: "", to: address }, raw: published.replace("4.0.0", "5.1.1") });
      expect((await contact(one)).suppressedBecause).toBe("bounced");
    } finally {
      transport.close();
      await listener.stop();
    }
  });
  it("counts once however often it is reported, and soft ones only when they are many", async () => {
    const one = await reader("soft");
    const ids = await Promise.all(
      Array.from({ length: 5 }, async (_, n) => {
        const id = randomUUID();
        await em().execute(
          "insert into email_message (id, key, kind, launch_id, contact_id, due_at, state, data) values (?, ?, 'bell', ?, ?, ?, 'sent', '{}')",
          [id, `soft:${id}:${n}`, of.launch.id, one.id, now()],
        );
        return id;
      }),
    );
    const soft = { is: "bounce" as const, hard: false, says: "full" };
    for (const id of [...ids.slice(0, 4), ...ids.slice(0, 4)]) await takeReturned(world.app, id, soft);
    expect((await contact(one)).suppressedAt).toBeNull();
    await takeReturned(world.app, ids[4]!, soft);
    expect((await contact(one)).suppressedBecause).toBe("bounced");
  });
  it("refused at the door is a bounce, and mail goes there again when the inbox is proved, corrected, or by the desk", async () => {
    const one = await reader("nobody");
    expect(await send(one)).toMatchObject({ state: "stopped", stoppedBecause: "no_such_address" });
    const suppressed = async () => (await contact(one)).suppressedBecause;
    expect(await suppressed()).toBe("bounced");
    await resumeEmailsTo(em(), world.owner, one.personId);
    expect(await suppressed()).toBeNull();
    const { id } = await em().findOneOrFail(EmailMessage, { contactId: one.id, kind: "bell" });
    const again = async () => {
      await em().nativeUpdate(EmailMessage, { id }, { bouncedAt: null, bounce: null });
      await takeReturned(world.app, id, { is: "bounce", hard: true, says: "x" });
    };
    await again();
    await proveInbox(em(), one.id, now());
    expect(await suppressed()).toBeNull();
    await again();
    const seen = correctable(await contact(one));
    await correctPerson(em(), world.owner, one.personId, { ...seen, email: `right.${one.email}`, seen }, now());
    expect(await suppressed()).toBeNull();
    await expect(resumeEmailsTo(em(), someone("viewer"), one.personId)).rejects.toMatchObject({ message: "not_allowed" });
    // A complaint is the reader's own word: proof that they read it ends nothing.
    await takeReturned(world.app, id, { is: "complaint", says: "abuse" });
    await proveInbox(em(), one.id, now());
    expect(await suppressed()).toBe("complained");
  });
});

describe("what a reader asks for", () => {
  it("is nothing of one launch, one a week, or none; and only a form brings back whoever wants none", async () => {
    const one = await reader("una");
    const wants = () => preferencesOf(em(), one.id, of.launch.slug);
    expect(await wants()).toEqual({ emails: "all", launch: { name: of.launch.name, left: false } });
    await changePreferences(em(), one.id, { slug: of.launch.slug, email: null }, { emails: "fewer", leave: "yes" }, now());
    expect(await wants()).toEqual({ emails: "fewer", launch: { name: of.launch.name, left: true } });
    await changePreferences(em(), one.id, { slug: of.launch.slug, email: null }, { emails: "all" }, now());
    expect(await wants()).toMatchObject({ emails: "all", launch: { left: false } });
    await changePreferences(em(), one.id, { slug: null, email: null }, { emails: "none" }, now());
    await changePreferences(em(), one.id, { slug: of.launch.slug, email: null }, { emails: "all" }, now());
    expect(await wants()).toMatchObject({ emails: "none" });
    await optIn(em(), of, { email: one.email, firstName: "Una", answers: {} }, sentBy(visitor().visitorId, now(), { page: "" }));
    expect(await wants()).toMatchObject({ emails: "all" });
  });
  it("holds one email a week to whoever wants fewer", async () => {
    const one = await reader("few");
    await changePreferences(em(), one.id, { slug: null, email: null }, { emails: "fewer" }, now());
    expect((await send(one)).state).toBe("sent");
    const later = await send(one, "more");
    expect(later.state).toBe("due");
    expect(Math.round((later.dueAt.getTime() - now().getTime()) / 3_600_000)).toBe(7 * 24);
  });
});

describe("a signature", () => {
  it("of every email is verified by a receiver that finds its record, before and after the key is changed", async () => {
    const domain = "marram.example";
    const sign = async (request: Parameters<typeof changeSigning>[3]) =>
      (await changeSigning(world.app, em(), world.owner, request, now())).domains.find((one) => one.domain === domain)!;
    expect((await signingOf(world.app, em())).domains[0]!.keys).toEqual([]);
    const made = await sign({ do: "make", domain });
    const verified = async (to: { email: string }) => {
      const { domains } = await signingOf(world.app, em());
      const records = new Map(domains.flatMap(({ keys }) => keys.map(({ record }) => [record.name, record.value])));
      const resolver = (name: string, type: string) =>
        type === "TXT" && records.has(name)
          ? Promise.resolve([[records.get(name)!]])
          : Promise.reject(Object.assign(new Error(name), { code: "ENOTFOUND" }));
      const { dkim } = await authenticate(await rawOf(to), {
        resolver,
        trustReceived: false,
        disableArc: true,
        disableDmarc: true,
        disableBimi: true,
        sender: "x@y.example",
        ip: "127.0.0.1",
      });
      return dkim.results.map(({ status, signingDomain }) => [status.result, signingDomain]);
    };
    const before = await reader("una");
    await send(before);
    expect(await verified(before)).toEqual([["none", undefined]]);
    await sign({ do: "use", selector: made.keys[0]!.selector });
    const after = await reader("una");
    await send(after);
    expect(await verified(after)).toEqual([["pass", made.domain]]);
    const next = await sign({ do: "make", domain });
    expect(next.keys).toHaveLength(2);
    await sign({ do: "use", selector: next.keys[0]!.selector });
    const last = await reader("una");
    await send(last);
    expect(await verified(last)).toEqual([["pass", made.domain]]);
    // Another installation's secret opens no key: emails go unsigned rather than not at all.
    const other = { ...world.app, config: { ...world.app.config, INKBELL_SECRET: "x".repeat(40) } };
    expect(await signerFor(other, em(), `post@${made.domain}`)).toBeUndefined();
    await expect(changeSigning(world.app, em(), someone("editor"), { do: "make", domain }, now())).rejects.toMatchObject({ message: "not_allowed" });
    const mail = await simpleParser(await rawOf(last));
    expect(mail.headers.get("dkim-signature")).toBeDefined();
    // A launch with a sender of its own is signed for by that sender's domain, once it has a key.
    await setSettings(world, of, { sender: { name: "Weekend", email: "post@weekend.example" } });
    launchesOf(world.app).clear();
    const unsigned = await reader("una");
    await send(unsigned);
    expect(await verified(unsigned)).toEqual([["none", undefined]]);
    const both = await changeSigning(world.app, em(), world.owner, { do: "make", domain: "weekend.example" }, now());
    expect(both.domains.map(({ domain, launches, keys }) => [domain, launches, keys.length])).toEqual([
      [domain, [], 1],
      ["weekend.example", [of.launch.name], 1],
    ]);
    await sign({ do: "use", selector: both.domains[1]!.keys[0]!.selector });
    const own = await reader("una");
    await send(own);
    expect(await verified(own)).toEqual([["pass", "weekend.example"]]);
    await expect(sign({ do: "make", domain: "elsewhere.example" })).rejects.toMatchObject({ status: 404 });
  });
});
