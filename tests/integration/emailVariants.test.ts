import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bellEmail, variantKey } from "../../src/core/emails";
import {
  addVariant,
  dropEmailTemplate,
  emailDraft,
  keepEmailTemplate,
  listEmailTemplates,
  previewEmailTo,
  publishEmail,
  removeVariant,
  saveEmail,
  weighVariant,
} from "../../src/server/emails";
import { variantFor } from "../../src/server/emails/contents";
import { launchesOf } from "../../src/server/launch";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import { optIn } from "../../src/server/people/optIn";
import { variantFigures } from "../../src/store/emails/emailFigures";
import { copyEmails, writeEmails } from "../../src/store/emails/launchEmails";
import { queueEmail } from "../../src/store/emails/queueEmail";
import { Contact, EmailMessage } from "../../src/store/tables";
import { openLaunch, sendEmail, sentBy, setSettings, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
let of: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  of = await openLaunch(world);
  await writeEmails(em(), of.launch.id, { news: bellEmail("The first words", "Words.") }, now());
  const steps = [{ id: "news", minutes: 0, time: null, when: null }];
  of = await setSettings(world, of, {
    sequences: [{ id: "of-news", name: "News", from: { on: "opt_in" }, untilBought: false, untilClosed: false, steps }],
  });
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const fresh = async () => {
  launchesOf(world.app).clear();
  return (await loadLaunch(em(), { id: of.launch.id }))!;
};
/** Somebody gets the email now; answers who, and what they got. */
const got = async () => {
  const email = `una.${randomUUID().slice(0, 8)}@heddle.example`;
  await optIn(em(), of, { email, firstName: "Una", answers: {} }, sentBy(visitor().visitorId, now(), { page: "" }));
  const contact = await em().findOneOrFail(Contact, { email });
  const key = `step:${of.launch.id}:news:${contact.id}`;
  const data = { sequence: "of-news", step: "news", moment: now().toISOString() };
  await em().transactional((tx) => queueEmail(tx, { key, kind: "step", data, launchId: of.launch.id, contactId: contact.id, dueAt: now() }));
  await sendEmail(world, (await em().findOneOrFail(EmailMessage, { key })).id);
  const { subject, variant } = await em().findOneOrFail(EmailMessage, { key });
  return { contact, subject, variant: variant ?? null };
};
const write = async (subject: string) => {
  const context = await fresh();
  const key = variantKey("news");
  const { draft, version } = emailDraft(context, key);
  const saved = await saveEmail(em(), world.owner, context, key, { ...draft, subject }, version);
  await publishEmail(world.app, em(), world.owner, await fresh(), key, saved.version);
  return fresh();
};

describe("a second variant of an email", () => {
  it("begins as the first one stands, and goes to nobody before it is published", async () => {
    await addVariant(em(), world.owner, of, "news");
    expect(emailDraft(await fresh(), variantKey("news"))).toMatchObject({ kind: "step", published: null, draft: { subject: "The first words" } });
    expect(await got()).toMatchObject({ subject: "The first words", variant: null });
    await expect(addVariant(em(), world.owner, await fresh(), "news")).rejects.toMatchObject({ data: { code: "changed_meanwhile" } });
  });

  it("goes to those whom it falls to, each of whom is shown theirs, and is counted apart", async () => {
    const context = await write("Other words");
    const readers: Awaited<ReturnType<typeof got>>[] = [];
    for (let n = 0; n < 24; n += 1) readers.push(await got());
    for (const { contact, subject, variant } of readers) {
      const theirs = variantFor(context, "news", contact.personId, true);
      expect([variant, subject]).toEqual([theirs.variant, theirs.variant === "B" ? "Other words" : "The first words"]);
      const shown = await previewEmailTo(world.app, em(), context, "news", { readerId: contact.id });
      expect(shown.subject).toBe(subject);
      expect(shown).not.toHaveProperty("personId");
    }
    const figures = await variantFigures(em(), of.launch.id, now());
    expect(figures.map(({ key, variant, sent }) => [key, variant, sent])).toEqual(
      ["A", "B"].map((variant) => ["news", variant, readers.filter((one) => one.variant === variant).length]),
    );
    expect(Math.min(...figures.map(({ sent }) => sent))).toBeGreaterThan(3);
    expect((await previewEmailTo(world.app, em(), context, variantKey("news"))).subject).toBe("Other words");
  });

  it("goes to as many as is said", async () => {
    for (const [second, variant] of [
      [100, "B"],
      [0, "A"],
    ] as const) {
      await weighVariant(em(), world.owner, await fresh(), "news", second);
      await fresh();
      for (let n = 0; n < 3; n += 1) expect((await got()).variant).toBe(variant);
    }
  });

  it("goes along with a copy of its launch, weights and all", async () => {
    const other = await openLaunch(world);
    await em().execute("delete from launch_email where launch_id = ?", [other.launch.id]);
    await copyEmails(em(), { from: of.launch.id, to: other.launch.id });
    const copied = (await loadLaunch(em(), { id: other.launch.id }))!.emails;
    expect([copied.get("news")!.weight, copied.get(variantKey("news"))!.weight]).toEqual([100, 0]);
  });

  it("that is removed leaves everybody the first one, and stays counted", async () => {
    const before = await variantFigures(em(), of.launch.id, now());
    await removeVariant(em(), world.owner, await fresh(), "news");
    await fresh();
    expect(await got()).toMatchObject({ subject: "The first words", variant: null });
    expect(await variantFigures(em(), of.launch.id, now())).toEqual(before);
    await expect(weighVariant(em(), world.owner, await fresh(), "news", 10)).rejects.toMatchObject({ data: { code: "not_found" } });
  });

  it("is there of no receipt, of no variant, of nothing that is none, and by nobody who may only look", async () => {
    const context = await fresh();
    for (const key of ["receipt", "confirm", "library", "nothing", variantKey("news"), variantKey("welcome")])
      await expect(addVariant(em(), world.owner, context, key), key).rejects.toMatchObject({ data: { code: "not_found" } });
    for (const run of [addVariant, removeVariant])
      await expect(run(em(), someone("viewer"), context, "news")).rejects.toMatchObject({ data: { code: "not_allowed" } });
    await addVariant(em(), world.owner, context, "welcome");
    expect(emailDraft(await fresh(), variantKey("welcome")).kind).toBe("welcome");
  });
});

describe("a template of an email", () => {
  it("holds the draft as it was kept, under a name of its own, until it is thrown away", async () => {
    const context = await fresh();
    const name = `Kept ${randomUUID().slice(0, 8)}`;
    const keep = (user = world.owner, key = "news") => keepEmailTemplate(em(), user, context, key, name, now());
    const { id } = await keep();
    const { draft, version } = emailDraft(context, "news");
    await saveEmail(em(), world.owner, context, "news", { ...draft, subject: "Changed since" }, version);
    const kept = (await listEmailTemplates(em())).find((one) => one.id === id);
    expect(kept).toEqual({ id, name, content: draft });
    await expect(keep()).rejects.toMatchObject({ faults: { name: { code: "template_name_taken" } } });
    await expect(keep(world.owner, "nothing")).rejects.toMatchObject({ data: { code: "not_found" } });
    for (const refused of [keep(someone("viewer")), dropEmailTemplate(em(), someone("viewer"), id)])
      await expect(refused).rejects.toMatchObject({ data: { code: "not_allowed" } });
    await dropEmailTemplate(em(), world.owner, id);
    await expect(dropEmailTemplate(em(), world.owner, id)).rejects.toMatchObject({ data: { code: "not_found" } });
    expect((await listEmailTemplates(em())).some((one) => one.id === id)).toBe(false);
  });
});
