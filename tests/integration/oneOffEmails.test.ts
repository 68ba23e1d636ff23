import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { bellEmail } from "../../src/core/emails";
import { wallTimeOf } from "../../src/core/launch";
import { addOneOff, holdOneOff, listOneOffs, queueOneOff, recipientsOf, removeOneOff, saveOneOff, scheduleOneOff } from "../../src/server/emails";
import { launchesOf } from "../../src/server/launch";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import { optIn } from "../../src/server/people/optIn";
import { copyEmails, writeEmails } from "../../src/store/emails/launchEmails";
import { emailFigures } from "../../src/store/emails/emailFigures";
import { optOut } from "../../src/store/people/optOuts";
import { Contact, EmailMessage, OneOffEmail, PersonTag } from "../../src/store/tables";
import { advance, openLaunch, sendEmail, sentBy, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
let of: LaunchContext;
/** The tag of those whom a test is about. */
let tag: string;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());
beforeEach(async () => {
  of = await openLaunch(world);
  tag = `t${randomUUID().slice(0, 8)}`;
});

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const fresh = async () => {
  launchesOf(world.app).clear();
  return (await loadLaunch(em(), { id: of.launch.id }))!;
};
const reader = async (change: Partial<Contact> = {}) => {
  const email = `una.${randomUUID().slice(0, 8)}@heddle.example`;
  await optIn(em(), of, { email, firstName: "Una", answers: {} }, sentBy(visitor().visitorId, now(), { page: "" }));
  const contact = await em().findOneOrFail(Contact, { email });
  if (Object.keys(change).length > 0) await em().nativeUpdate(Contact, { id: contact.id }, change);
  await em().insert(PersonTag, { personId: contact.personId, tag, at: now() });
  return contact;
};
/** An email that is written, published, and to go to whoever has the tag. */
const begun = async (when: { wall: string | null; byZone: boolean } = { wall: null, byZone: false }) => {
  const { id } = await addOneOff(em(), world.owner, of, null, now());
  await writeEmails(em(), of.launch.id, { [id]: bellEmail("Live tonight", "Bring your chart.") }, now());
  const { version } = await saveOneOff(em(), world.owner, await fresh(), id, { who: `is tagged "${tag}"`, ...when }, 1);
  return { id, version };
};
const scheduled = async (when?: { wall: string | null; byZone: boolean }) => {
  const { id, version } = await begun(when);
  await scheduleOneOff(em(), world.owner, await fresh(), id, version, now());
  return id;
};
const copies = (id: string) => em().find(EmailMessage, { kind: "once", key: { $like: `%:${id}:%` } }, { orderBy: { dueAt: 1 } });
/** Sends what is due of an email; answers what became of every copy. */
const send = async (id: string) => {
  await fresh();
  for (const one of await copies(id)) if (one.state === "due" && one.dueAt <= now()) await sendEmail(world, one.id);
  return (await copies(id)).map(({ state }) => state).sort();
};
const hold = async (id: string, to: "pause" | "resume" | "cancel") => holdOneOff(em(), world.owner, await fresh(), id, to, now());
const stateOf = async (id: string) => (await em().findOneOrFail(OneOffEmail, { id })).state;

describe("an email that goes once", () => {
  it("says before to how many it would go, and why not to the others", async () => {
    await reader();
    await reader();
    await reader({ unsubscribedAt: now() });
    await reader({ consentAt: null, consentText: null });
    await reader({ suppressedAt: now(), suppressedBecause: "bounced" });
    await optOut(em(), (await reader()).id, of.launch.id, "reader", now());
    await reader({ erasedAt: now() });
    expect(await recipientsOf(em(), of, `is tagged "${tag}"`, now())).toEqual({
      people: 6,
      recipients: 2,
      unsubscribed: 1,
      noConsent: 1,
      suppressed: 1,
      launchLeft: 1,
    });
    await expect(recipientsOf(em(), of, "is tagged", now())).rejects.toMatchObject({ data: { code: "fields" } });
    const all = await recipientsOf(em(), of, "", now());
    expect(all.recipients).toBeGreaterThanOrEqual(2);
    await em().nativeDelete(PersonTag, { tag });
    expect((await recipientsOf(em(), of, `is tagged "${tag}"`, now())).people).toBe(0);
    expect(await recipientsOf(em(), of, "", now())).toEqual(all);
  });

  it("goes to those who meet its condition as it begins, each once, however many workers queue it", async () => {
    const first = await reader();
    const id = await scheduled();
    const second = await reader();
    await reader({ unsubscribedAt: now() });
    await Promise.all([queueOneOff(world.app, id), queueOneOff(world.app, id), queueOneOff(world.app, id)]);
    await queueOneOff(world.app, id);
    const late = await reader();
    await queueOneOff(world.app, id);
    expect(new Set((await copies(id)).map(({ contactId }) => contactId))).toEqual(new Set([first.id, second.id]));
    expect(await send(id)).toEqual(["sent", "sent"]);
    expect(late.id).toBeTruthy();
    const [listed] = await listOneOffs(em(), await fresh());
    expect(listed).toMatchObject({ id, who: `is tagged "${tag}"`, state: "sending", queued: 2, allQueued: true });
    const figures = (await emailFigures(em(), of.launch.id, now())).find(({ email }) => email === id);
    expect(figures).toMatchObject({ kind: "once", sent: 2, due: 0 });
  });

  it("goes at the same hour on each reader's wall", async () => {
    const [lisbon, york, unknown] = [await reader({ zone: "Europe/Lisbon" }), await reader({ zone: "America/New_York" }), await reader()];
    await em().nativeUpdate(Contact, { id: unknown.id }, { zone: null, guessedZone: null });
    const wall = wallTimeOf(new Date(now().getTime() + 20 * 3_600_000), "Europe/Lisbon");
    const id = await scheduled({ wall, byZone: true });
    await queueOneOff(world.app, id);
    // Where the day begins first it is too early still.
    await advance(world, 20 * 60 - 13 * 60);
    await queueOneOff(world.app, id);
    const due = new Map((await copies(id)).map(({ contactId, dueAt }) => [contactId, dueAt]));
    expect(wallTimeOf(due.get(lisbon.id)!, "Europe/Lisbon")).toBe(wall);
    expect(wallTimeOf(due.get(york.id)!, "America/New_York")).toBe(wall);
    // Whose zone nobody knows reads it by the launch's.
    expect(due.get(unknown.id)).toEqual(due.get(lisbon.id));
    expect(await send(id)).toEqual(["due", "due", "due"]);
    await advance(world, 13 * 60 + 1);
    expect(await send(id)).toEqual(["due", "sent", "sent"]);
    // Somebody who moves before it goes reads it by the new wall.
    await em().nativeUpdate(Contact, { id: york.id }, { zone: "Pacific/Honolulu" });
    await em().nativeUpdate(EmailMessage, { contactId: york.id, kind: "once" }, { dueAt: now() });
    expect(await send(id)).toEqual(["due", "sent", "sent"]);
    const [moved] = (await copies(id)).filter(({ contactId }) => contactId === york.id);
    expect(wallTimeOf(moved!.dueAt, "Pacific/Honolulu")).toBe(wall);
  });

  it("is held while it goes out, goes on where it was, and is called off for those who wait", async () => {
    await reader();
    await reader();
    const id = await scheduled();
    await hold(id, "pause");
    // Paused before it began, it begins when it goes on.
    await queueOneOff(world.app, id);
    expect(await copies(id)).toHaveLength(0);
    await hold(id, "resume");
    await queueOneOff(world.app, id);
    const [one] = await copies(id);
    await sendEmail(world, one!.id);
    await hold(id, "pause");
    await advance(world, 60 * 24);
    expect(await send(id)).toEqual(["due", "sent"]);
    // Even a worker that looks at it meanwhile sends nothing.
    await em().nativeUpdate(EmailMessage, { kind: "once", state: "due", launchId: of.launch.id }, { dueAt: now() });
    expect(await send(id)).toEqual(["due", "sent"]);
    await expect(hold(id, "pause")).rejects.toMatchObject({ data: { code: "changed_meanwhile" } });
    await hold(id, "resume");
    expect(await stateOf(id)).toBe("sending");
    await reader();
    await hold(id, "cancel");
    expect(await send(id)).toEqual(["sent", "stopped"]);
    await queueOneOff(world.app, id);
    expect(await copies(id)).toHaveLength(2);
    for (const to of ["resume", "pause", "cancel"] as const)
      await expect(hold(id, to)).rejects.toMatchObject({ data: { code: "changed_meanwhile" } });
  });

  it("is not begun unwritten, at a moment that is over, by somebody else's newer choice, or by who may only look", async () => {
    const { id: unwritten } = await addOneOff(em(), world.owner, of, null, now());
    await expect(scheduleOneOff(em(), world.owner, await fresh(), unwritten, 1, now())).rejects.toMatchObject({ data: { code: "gap" } });
    const past = await begun({ wall: wallTimeOf(new Date(now().getTime() - 3_600_000), "Europe/Lisbon"), byZone: true });
    const context = await fresh();
    const refused = (user = world.owner, version = past.version) => scheduleOneOff(em(), user, context, past.id, version, now());
    await expect(refused()).rejects.toMatchObject({ faults: { wall: { code: "moment_past" } } });
    await expect(refused(world.owner, 1)).rejects.toMatchObject({ data: { code: "changed_meanwhile" } });
    await expect(refused(someone("viewer"))).rejects.toMatchObject({ data: { code: "not_allowed" } });
    await expect(saveOneOff(em(), someone("viewer"), context, past.id, { who: "", wall: null, byZone: false }, past.version)).rejects.toMatchObject({
      data: { code: "not_allowed" },
    });
    expect(await stateOf(past.id)).toBe("draft");
    // Another launch's email is none of this one's.
    const other = await openLaunch(world);
    await expect(removeOneOff(em(), world.owner, other, past.id)).rejects.toMatchObject({ data: { code: "not_found" } });
    await removeOneOff(em(), world.owner, context, past.id);
    expect(await em().count(OneOffEmail, { id: past.id })).toBe(0);
    const id = await scheduled();
    await expect(removeOneOff(em(), world.owner, await fresh(), id)).rejects.toMatchObject({ data: { code: "changed_meanwhile" } });
  });

  it("is not sent anew by whatever is made of its launch", async () => {
    const id = await scheduled();
    const other = await openLaunch(world);
    await em().execute("delete from launch_email where launch_id = ?", [other.launch.id]);
    await copyEmails(em(), { from: of.launch.id, to: other.launch.id });
    expect((await loadLaunch(em(), { id: other.launch.id }))!.emails.has(id)).toBe(false);
  });
});
