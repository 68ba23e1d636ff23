import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bellEmail, plainEmail } from "../../src/core/emails";
import { wallTimeOf } from "../../src/core/launch";
import { addOneOff, emailDraft, listOneOffs, movedClosing, publishEmail, queueOneOff, recipientsOf, scheduleOneOff } from "../../src/server/emails"; // prettier-ignore
import { changeSettings, launchesOf, loadLaunch, summariseChange, type LaunchContext } from "../../src/server/launch";
import { optIn } from "../../src/server/people/optIn";
import { writeEmails } from "../../src/store/emails/launchEmails";
import { queueEmail } from "../../src/store/emails/queueEmail";
import { Contact, EmailMessage } from "../../src/store/tables";
import { advance, openLaunch, sendEmail, sentBy, setSettings, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const hour = 3_600_000;
const fresh = async ({ launch }: LaunchContext): Promise<LaunchContext> => {
  launchesOf(world.app).clear();
  return (await loadLaunch(em(), { id: launch.id }))!;
};
const joins = async (of: LaunchContext) => {
  const email = `una.${randomUUID().slice(0, 8)}@heddle.example`;
  await optIn(em(), of, { email, firstName: "Una", answers: {} }, sentBy(visitor().visitorId, now(), { page: "" }));
  return em().findOneOrFail(Contact, { email });
};
/** Sends somebody a step of a sequence now. */
const sends = async (of: LaunchContext, to: Contact, step: string): Promise<EmailMessage> => {
  const key = `step:${of.launch.id}:${step}:${to.id}`;
  const data = { sequence: `of-${step}`, step, moment: now().toISOString() };
  await em().transactional((tx) => queueEmail(tx, { key, kind: "step", data, launchId: of.launch.id, contactId: to.id, dueAt: now() }));
  await sendEmail(world, (await em().findOneOrFail(EmailMessage, { key })).id);
  return em().findOneOrFail(EmailMessage, { key });
};
const launchWithSteps = async (): Promise<LaunchContext> => {
  const of = await openLaunch(world, { closesIn: 24 * 3 });
  await writeEmails(
    em(),
    of.launch.id,
    { timed: bellEmail("Doors close", "Soon."), plain: plainEmail({ subject: "A letter", paragraphs: ["Wool."] }) },
    now(),
  );
  const alone = (id: string) => ({ id: `of-${id}`, name: id, from: { on: "opt_in" as const }, untilBought: false, untilClosed: false, steps: [{ id, minutes: 0, time: null, when: null }] }); // prettier-ignore
  await setSettings(world, of, { sequences: ["timed", "plain"].map(alone) });
  return fresh(of);
};
/** The settings with the closing bell so many hours from now. */
const closingIn = (of: LaunchContext, hours: number) => {
  const { clock } = of.launch.settings;
  if (clock.kind !== "fixed") throw new Error("its doors close for all at once");
  return { ...of.launch.settings, clock: { ...clock, closes: wallTimeOf(new Date(now().getTime() + hours * hour), of.launch.zone) } };
};
const move = async (of: LaunchContext, hours: number): Promise<LaunchContext> => {
  const { version } = (await fresh(of)).launch;
  await changeSettings(em(), world.owner, await fresh(of), { settings: closingIn(of, hours), version, what: "Moved" }, now());
  return fresh(of);
};

describe("a closing that was announced and is moved", () => {
  it("is known by what was sent: an email that names no closing announced none", async () => {
    const of = await launchWithSteps();
    const to = await joins(of);
    const closes = of.plan.clock.kind === "fixed" ? of.plan.clock.window.closes : null;
    expect([(await sends(of, to, "timed")).statedClosing, (await sends(of, to, "plain")).statedClosing]).toEqual([closes, null]);
    expect(await movedClosing(em(), of, now())).toEqual({ closes, told: [] });
  });

  it("says before it is moved how many were told another, and afterwards lets just them be written to, once", async () => {
    let of = await launchWithSteps();
    const [told, left, unwritten] = [await joins(of), await joins(of), await joins(of)];
    for (const to of [told, left]) await sends(of, to, "timed");
    await sends(of, unwritten, "plain");
    await em().nativeUpdate(Contact, { id: left.id }, { unsubscribedAt: now() });
    const before = of.plan.clock.kind === "fixed" ? of.plan.clock.window.closes : now();
    expect(await summariseChange(em(), of, closingIn(of, 24 * 5), now())).toMatchObject({ told: 2 });
    expect((await summariseChange(em(), of, { ...of.launch.settings, graceMinutes: 5 }, now())).told).toBeUndefined();
    of = await move(of, 24 * 5);
    expect((await movedClosing(em(), of, now())).told).toEqual([{ closing: before, people: 2, mayWrite: 1 }]);

    const { id } = await addOneOff(em(), world.owner, of, "moved_closing", now());
    of = await fresh(of);
    const [begun] = await listOneOffs(em(), of);
    expect(await recipientsOf(em(), of, begun!.who, now())).toMatchObject({ people: 2, recipients: 1, unsubscribed: 1 });
    const draft = emailDraft(of, id);
    expect(draft.draft.subject).toMatch(/another time/);
    await publishEmail(world.app, em(), world.owner, of, id, draft.version);
    of = await fresh(of);
    await scheduleOneOff(em(), world.owner, of, id, begun!.version, now());
    await advance(world, 1);
    await queueOneOff(world.app, id);
    const rows = await em().find(EmailMessage, { launchId: of.launch.id, kind: "once" });
    expect(rows.map(({ contactId }) => contactId)).toEqual([told.id]);
    launchesOf(world.app).clear();
    await sendEmail(world, rows[0]!.id);
    const [mail] = (await world.inbox(told.email)).filter(({ subject }) => /another time/.test(subject));
    expect(mail!.text).toMatch(/close .*\d{4} at \d\d:\d\d/);
    // Whoever has the new time is told nothing again.
    expect((await movedClosing(em(), of, now())).told).toEqual([{ closing: before, people: 1, mayWrite: 0 }]);
    expect(await recipientsOf(em(), of, begun!.who, now())).toMatchObject({ recipients: 0 });
  });

  it("moved back before anybody was written to, is nobody's business any more", async () => {
    let of = await launchWithSteps();
    const settings = of.launch.settings;
    await sends(of, await joins(of), "timed");
    of = await move(of, 24);
    expect((await movedClosing(em(), of, now())).told).toMatchObject([{ people: 1 }]);
    await changeSettings(em(), world.owner, of, { settings, version: of.launch.version, what: "Moved back" }, now());
    expect((await movedClosing(em(), await fresh(of), now())).told).toEqual([]);
  });

  it("is nothing to write about where each person's doors close by themselves, or have closed", async () => {
    const own = await openLaunch(world, { request: { clock: "personal", personHours: 2 } });
    expect(await movedClosing(em(), own, now())).toEqual({ closes: null, told: [] });
    await expect(addOneOff(em(), world.owner, own, "moved_closing", now())).rejects.toMatchObject({ status: 404 });
  });
});
