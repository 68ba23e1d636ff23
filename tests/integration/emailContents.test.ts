import { randomUUID } from "node:crypto";
import { simpleParser } from "mailparser";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bellEmail, usualEmail, type EmailContent } from "../../src/core/emails";
import { builder, idsFrom, richOf } from "../../src/core/pages";
import { emailDraft, previewEmailTo, publishEmail, saveEmail } from "../../src/server/emails";
import { launchesOf } from "../../src/server/launch";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import { optIn } from "../../src/server/people/optIn";
import { recordTouch } from "../../src/server/partners";
import { setPartnerWord } from "../../src/server/partners";
import { copyLaunch } from "../../src/server/start";
import { queueEmail } from "../../src/store/emails/queueEmail";
import { Contact, EmailMessage } from "../../src/store/tables";
import { addPartner, buy, clickBy, openLaunch, sendEmail, sentBy, setSettings, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const fresh = async (of = context) => (await loadLaunch(em(), { id: of.launch.id }))!;
const b = builder(idsFrom("e"));
const write = (subject: string, ...blocks: Parameters<typeof b.section>[0]): EmailContent => ({
  subject,
  preheader: "",
  sections: [b.section(blocks)],
  text: null,
});
/** Keeps words for an email of a launch, and publishes them. */
const publish = async (of: LaunchContext, key: string, content: EmailContent): Promise<LaunchContext> => {
  const { version } = await saveEmail(em(), world.owner, await fresh(of), key, content, emailDraft(await fresh(of), key).version);
  await publishEmail(world.app, em(), world.owner, await fresh(of), key, version);
  launchesOf(world.app).clear();
  return fresh(of);
};
const reader = async (of: LaunchContext, change: Partial<Contact> = {}) => {
  const address = `una.${randomUUID().slice(0, 8)}@heddle.example`;
  const { visitorId } = visitor();
  await optIn(em(), of, { email: address, firstName: "Una", answers: {} }, sentBy(visitorId, now(), { page: "" }));
  const contact = await em().findOneOrFail(Contact, { email: address });
  if (Object.keys(change).length > 0) await em().nativeUpdate(Contact, { id: contact.id }, change);
  return { id: contact.id, email: address, visitorId };
};
/** Sends an email on a bell that is due now to somebody, and answers what they got. */
const receive = async (of: LaunchContext, key: string, to: { id: string; email: string }) => {
  await em().transactional((tx) =>
    queueEmail(tx, {
      key: `bell:${of.launch.id}:${key}::${to.id}`,
      kind: "bell",
      launchId: of.launch.id,
      contactId: to.id,
      dueAt: now(),
      data: { email: key },
    }),
  );
  const row = await em().findOneOrFail(EmailMessage, { contactId: to.id, kind: "bell" });
  await sendEmail(world, row.id);
  const [mail] = (await world.inbox(to.email)).filter(({ messageId }) => messageId.includes(row.id));
  return { mail, row: await em().findOneOrFail(EmailMessage, { id: row.id }) };
};
/** A launch with an email that is due from the opening on. */
const withOpening = async (): Promise<LaunchContext> =>
  setSettings(world, await openLaunch(world), { emails: [{ id: "open", hangsOn: "opening", minutes: 47 * 60, time: null, to: "list" }] });

describe("what an email says", () => {
  it("is kept as it is typed, and goes out once it is published", async () => {
    const of = await withOpening();
    const first = await saveEmail(em(), world.owner, of, "open", write("First", b.text("One.")), 0);
    expect(first).toEqual({ version: 1 });
    const waits = await receive(of, "open", await reader(of));
    expect([waits.row.state, waits.row.stoppedBecause, waits.mail]).toEqual(["stopped", "not_published", undefined]);
    await publishEmail(world.app, em(), world.owner, await fresh(of), "open", 1);
    await saveEmail(em(), world.owner, await fresh(of), "open", write("Second", b.text("Two.")), 1);
    launchesOf(world.app).clear();
    const got = await receive(of, "open", await reader(of));
    expect([got.mail?.subject, got.row.subject, got.row.state]).toEqual(["First", "First", "sent"]);
    expect((await fresh(of)).source.subjects["open"]).toBe("First");
    const preview = (draft: boolean) => fresh(of).then((at) => previewEmailTo(world.app, em(), at, "open", { draft }));
    expect([(await preview(false)).subject, (await preview(true)).subject]).toEqual(["First", "Second"]);
  });

  it("is not overwritten by whoever saves second, and not published where it is not what was looked at", async () => {
    const of = await withOpening();
    await saveEmail(em(), world.owner, of, "open", write("Mine", b.text("One.")), 0);
    await expect(saveEmail(em(), world.owner, of, "open", write("Theirs", b.text("Two.")), 0)).rejects.toMatchObject({ code: "changed_meanwhile" });
    await saveEmail(em(), world.owner, await fresh(of), "open", write("Newer", b.text("Three.")), 1);
    await expect(publishEmail(world.app, em(), world.owner, await fresh(of), "open", 1)).rejects.toMatchObject({ code: "changed_meanwhile" });
    expect(emailDraft(await fresh(of), "open")).toMatchObject({ version: 2, published: null, draft: { subject: "Newer" } });
  });

  it("is published only whole, and written only by who may", async () => {
    const of = await withOpening();
    await saveEmail(em(), world.owner, of, "open", write("Hello {frist name}", b.text("One.")), 0);
    await expect(publishEmail(world.app, em(), world.owner, await fresh(of), "open", 1)).rejects.toMatchObject({ code: "gap" });
    const viewer = someone("viewer");
    await expect(saveEmail(em(), viewer, of, "open", write("x", b.text("x")), 1)).rejects.toMatchObject({ code: "not_allowed" });
    await expect(publishEmail(world.app, em(), viewer, of, "open", 1)).rejects.toMatchObject({ code: "not_allowed" });
    await expect(saveEmail(em(), world.owner, of, "gone", write("x", b.text("x")), 0)).rejects.toMatchObject({ code: "not_found" });
    const columns = write("x", b.columns([b.text("x")], [b.text("y")]));
    await expect(saveEmail(em(), world.owner, of, "open", columns, 1)).rejects.toMatchObject({ status: 422 });
    expect(emailDraft(await fresh(of), "open").version).toBe(1);
  });

  it("says each reader's name, price and deadline in their own zone, and who sent them", async () => {
    const of = await withOpening();
    const words = "Hello {first name, else friend}, {price} until {deadline}. {partner, else Nobody} sent you.";
    await publish(
      of,
      "open",
      write("For {first name, else you}", b.made("text", { rich: richOf(words) }), b.made("partner", { words: "You come from" })),
    );
    const partner = await addPartner(world, "isla");
    await setPartnerWord(em(), world.owner, of.launch.id, { partner: partner.id, name: "Isla", note: "It is worth it.", media: null }, now());
    const to = await reader(of, { provenAt: now(), zone: "Pacific/Auckland" });
    await em().transactional((tx) => recordTouch(tx, of.launch.id, clickBy("isla"), to.visitorId, now()));
    const { mail } = await receive(of, "open", to);
    const closes = of.plan.clock.kind === "fixed" ? of.plan.clock.window.closes : now();
    const there = new Intl.DateTimeFormat("en-GB", { timeZone: "Pacific/Auckland", hour: "2-digit", minute: "2-digit" }).format(closes);
    expect(mail!.subject).toBe("For Una");
    for (const part of ["Hello Una, €149.00 until", `at ${there}, Auckland time.`, "Isla sent you.", "You come from Isla", "It is worth it."])
      expect(mail!.text).toContain(part);
    const other = await receive(of, "open", await reader(of));
    for (const part of ["Hello friend,", "Nobody sent you."]) expect(other.mail!.text).toContain(part);
    expect(other.mail!.text).not.toContain("You come from");
  });

  it("is read by an independent parser as it was written: both parts, headers, a whole HTML document", async () => {
    const of = await withOpening();
    await publish(of, "open", write("Tonight — {launch}", b.title("Grüße"), b.text("„Quoted“ and <tags>.")));
    const { mail } = await receive(of, "open", await reader(of));
    const read = await simpleParser(mail!.raw);
    expect(read.subject).toBe(`Tonight — ${of.launch.name}`);
    for (const part of ["Grüße", "„Quoted“ and <tags>."]) expect(read.text).toContain(part);
    expect(read.html).toContain("&lt;tags&gt;");
    expect(read.headers.get("list")).toMatchObject({ unsubscribe: { url: expect.stringContaining("/unsubscribe?u=") as string } });
    expect(read.headerLines.find(({ key }) => key === "list-unsubscribe-post")?.line).toMatch(/List-Unsubscribe=One-Click$/);
  });
});

describe("an email to one person", () => {
  it("says what the launch has of its own, else what the program writes", async () => {
    const of = await openLaunch(world);
    const words = (to: { email: string }) => world.inbox(to.email).then((all) => all.at(-1)!.subject);
    const send = async (to: { id: string; email: string }) => {
      await sendEmail(world, (await em().findOneOrFail(EmailMessage, { contactId: to.id, kind: "welcome" })).id);
      return words(to);
    };
    expect(await send(await reader(of))).toBe(`You are on the list for ${of.launch.name}`);
    const mine = await publish(of, "welcome", write("Your place on the list", b.text("{what comes next}"), b.button("Look")));
    expect(await send(await reader(mine))).toBe("Your place on the list");
  });
  it("with a receipt keeps its lines whatever else it says, and says in the subject that it is a test", async () => {
    const of = await publish(
      await openLaunch(world),
      "receipt",
      write("Thank you: {order number}", b.text("It is yours."), b.made("receipt", {}), b.button("Look")),
    );
    const to = await reader(of);
    const { order } = await buy(world, of, { visitorId: to.visitorId, from: "127.0.0.1" }, { email: to.email, firstName: "Una", country: "PT" });
    await sendEmail(world, (await em().findOneOrFail(EmailMessage, { contactId: order!.contactId, kind: "receipt" })).id);
    const mail = (await world.inbox(to.email)).find(({ subject }) => subject.startsWith("Thank you"))!;
    expect(mail.subject).toBe(`Thank you: ${order!.number}`);
    for (const part of ["It is yours.", "€149.00, incl. VAT €27.86", "Paid €149.00"]) expect(mail.text).toContain(part);
    const bare = write("Thank you", b.text("It is yours."));
    const { version } = await saveEmail(em(), world.owner, await fresh(of), "receipt", bare, emailDraft(await fresh(of), "receipt").version);
    await expect(publishEmail(world.app, em(), world.owner, await fresh(of), "receipt", version)).rejects.toMatchObject({ code: "gap" });
  });
  it("can be looked at before anybody got it", async () => {
    const of = await openLaunch(world);
    for (const kind of ["confirm", "welcome", "receipt", "recovery"] as const) {
      const { subject, text, stop } = await previewEmailTo(world.app, em(), of, kind);
      expect(subject, kind).not.toMatch(/[{}]/);
      expect([stop, text.includes(of.launch.slug)]).toEqual([null, true]);
    }
    expect(emailDraft(of, "welcome").draft).toEqual(usualEmail("welcome"));
  });
});

describe("a launch that begins with another's", () => {
  it("has its emails, as drafts and as they go out", async () => {
    const of = await publish(await withOpening(), "open", bellEmail("Mine", "As I wrote it."));
    const { slug } = await copyLaunch(em(), world.owner, of, { name: "Once more", as: "dates", opensWall: "2027-03-01T10:00" }, now());
    const copy = (await loadLaunch(em(), { slug }))!;
    expect([...copy.emails].map(([key, { draft, published }]) => [key, draft.subject, published?.subject])).toEqual(
      [...(await fresh(of)).emails].map(([key, { draft, published }]) => [key, draft.subject, published?.subject]),
    );
    expect(copy.source.subjects["open"]).toBe("Mine");
  });
});
