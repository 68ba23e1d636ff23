import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bellEmail } from "../../src/core/emails";
import type { EmailSetting } from "../../src/core/launch";
import { previewEmailTo, sendTestEmail } from "../../src/server/emails";
import { identify } from "../../src/server/launch";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { optIn } from "../../src/server/people/optIn";
import { emailFigures } from "../../src/store/emails/emailFigures";
import { writeEmails } from "../../src/store/emails/launchEmails";
import { queueToList } from "../../src/store/emails/queueToList";
import { optOut } from "../../src/store/people/optOuts";
import { Contact, DeskUser, EmailMessage } from "../../src/store/tables";
import { MailFailed } from "../../src/outside/mailer";
import { personalClock } from "../support/plans";
import { buy, openLaunch, sendEmail, sentBy, setSettings, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
let context: LaunchContext;
const email: EmailSetting = {
  id: "last-call",
  hangsOn: "closing",
  minutes: -120,
  time: null,
  to: "not_bought",
};
const said = bellEmail("Two hours left", "The doors close tonight.\n\nNothing is kept behind them.");
/** A launch whose only email is this one, with these words. */
const withEmail = async (of: LaunchContext, change: Parameters<typeof setSettings>[2] = {}): Promise<LaunchContext> => {
  await writeEmails(em(), of.launch.id, { [email.id]: said }, now());
  return setSettings(world, of, { ...change, emails: [email] });
};
beforeAll(async () => {
  world = await startWorld();
  context = await withEmail(await openLaunch(world));
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const reader = async (change: Partial<Contact> = {}) => {
  const address = `una.${randomUUID().slice(0, 8)}@heddle.example`;
  const { visitorId } = visitor();
  await optIn(em(), context, { email: address, firstName: "Una", answers: {} }, sentBy(visitorId, now(), { page: "" }));
  const contact = await em().findOneOrFail(Contact, { email: address });
  if (Object.keys(change).length > 0) await em().nativeUpdate(Contact, { id: contact.id }, change);
  return { id: contact.id, email: address, visitorId };
};
const preview = (to?: string, of = context, id = email.id) => previewEmailTo(world.app, em(), of, id, { readerId: to });

describe("an email as somebody gets it", () => {
  it("is made of their own clock at the instant at which it goes to them", async () => {
    const { subject, text, html, at, stop } = await preview((await reader()).id);
    const { closes } = context.plan.clock.kind === "fixed" ? context.plan.clock.window : { closes: now() };
    expect(at).toEqual(new Date(closes.getTime() - 120 * 60_000));
    expect([subject, stop]).toEqual(["Two hours left", null]);
    expect(text).toContain("Nothing is kept behind them.");
    // The countdown is drawn as of that instant: its picture is part of the preview.
    expect(html).toContain('src="data:image/png;base64,');
    expect(html).toContain("Doors close");
  });

  it("greets by name only whoever has shown to read the inbox", async () => {
    expect((await preview((await reader()).id)).text).not.toContain("Una");
    expect((await preview((await reader({ provenAt: now() })).id)).text).toContain("Una");
    expect((await preview()).text).toMatch(/^Hello there,/);
  });

  it("says why it does not go to somebody, and shows what others get", async () => {
    const bought = await reader();
    await buy(world, context, { visitorId: bought.visitorId, from: "127.0.0.1" }, { email: bought.email, firstName: "Una", country: "PT" });
    const left = await reader();
    await optOut(em(), left.id, context.launch.id, "desk", now());
    const reasons = [
      await preview(bought.id),
      await preview((await reader({ unsubscribedAt: now() })).id),
      await preview((await reader({ consentAt: null, consentText: null })).id),
      await preview(left.id),
    ];
    expect(reasons.map(({ stop }) => stop)).toEqual(["paid", "unsubscribed", "no_consent", "launch_left"]);
    for (const { text } of reasons) expect(text).toContain("The doors close tonight.");
  });

  it("has no date before a clock of one's own has started, and the reader's zone where it is known", async () => {
    const always = await withEmail(await openLaunch(world), { clock: personalClock });
    const to = await reader({ guessedZone: "Atlantic/Azores" });
    const { at, zone, text } = await preview(to.id, always);
    expect(at).toBeNull();
    expect(zone).toBe("Atlantic/Azores");
    expect(text).toContain("The doors close tonight.");
  });

  it("gives nobody a key: its links lead to the launch as everybody sees it", async () => {
    const { text } = await preview((await reader()).id);
    const [, token] = /\?k=(\S+)/.exec(text)!;
    expect(token).toBe("preview");
    expect(identify(world.app, { link: token }, now())).toEqual({ contactId: undefined, visitorId: undefined });
    expect(text).toContain("unsubscribe?u=preview");
  });

  it("is of an email and a person that exist", async () => {
    await expect(preview(undefined, context, "no-such")).rejects.toMatchObject({ code: "not_found", data: { what: "email" } });
    await expect(preview(randomUUID())).rejects.toMatchObject({ code: "not_found", data: { what: "person" } });
  });
});

describe("a test of an email", () => {
  it("goes to whoever asks for it, as it would go out, and is not counted", async () => {
    const editor = em().create(DeskUser, {
      id: randomUUID(),
      email: `editor.${randomUUID().slice(0, 8)}@test.example`,
      name: "E",
      passwordHash: "-",
      role: "editor",
    });
    const before = await em().count(EmailMessage, {});
    expect(await sendTestEmail(world.app, em(), editor, context, email.id)).toEqual({ to: editor.email });
    const [received] = await world.inbox(editor.email);
    expect(received!.subject).toBe("Test: Two hours left");
    expect(received!.text).toContain("Nothing is kept behind them.");
    expect(await em().count(EmailMessage, {})).toBe(before);
  });

  it("is refused for whoever may only look, and where the mail server takes nothing", async () => {
    await expect(sendTestEmail(world.app, em(), someone("viewer"), context, email.id)).rejects.toMatchObject({ code: "not_allowed" });
    const away = { ...world.app, mailer: { send: () => Promise.reject(new MailFailed("later", "away")), close: () => undefined } };
    await expect(sendTestEmail(away, em(), world.owner, context, email.id)).rejects.toMatchObject({ code: "test_not_sent" });
  });
});

describe("what became of a launch's emails", () => {
  it("is counted by email and by kind, with why some were not sent, as of an instant", async () => {
    const of = await withEmail(await openLaunch(world));
    context = of;
    const people = [await reader(), await reader(), await reader({ unsubscribedAt: null })];
    const key = `bell:${of.launch.id}:${email.id}:`;
    await queueToList(
      em(),
      { launchId: of.launch.id, key, data: { email: email.id }, toBuyers: true, lastCall: false, dueAt: now() },
      { after: null, most: 100 },
    );
    await em().nativeUpdate(Contact, { id: people[1]!.id }, { unsubscribedAt: now() });
    const before = new Date(now().getTime() - 1_000);
    for (const one of await em().find(EmailMessage, { launchId: of.launch.id, kind: "bell", contactId: { $in: [people[0]!.id, people[1]!.id] } }))
      await em().nativeUpdate(EmailMessage, { id: one.id }, { state: "due", dueAt: now() });
    // The email hangs on the closing bell; to be sent now it is written to go two days after the opening, an hour ago.
    await setSettings(world, context, { emails: [{ ...email, hangsOn: "opening", minutes: 47 * 60 }] });
    for (const { id } of await em().find(EmailMessage, { launchId: of.launch.id, kind: "bell", contactId: { $in: [people[0]!.id, people[1]!.id] } }))
      await sendEmail(world, id);
    const found = (await emailFigures(em(), of.launch.id, now())).find((one) => one.email === email.id);
    expect(found).toMatchObject({ kind: "bell", sent: 1, due: 1, stopped: { unsubscribed: 1 }, unknown: 0 });
    const kinds = (await emailFigures(em(), of.launch.id, now())).map(({ kind }) => kind);
    expect(kinds).toEqual(["bell", "welcome"]);
    const then = (await emailFigures(em(), of.launch.id, before)).find((one) => one.email === email.id);
    expect(then?.sent).toBe(0);
  });
});
