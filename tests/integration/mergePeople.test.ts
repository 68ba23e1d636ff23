import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { accessOfPerson } from "../../src/server/delivery";
import { buyerOf, libraryHref, openLibrary } from "../../src/server/delivery/buyers";
import { erasePerson, listPeople, mergeOf, mergePeople, optIn, personRecordOf, stopEmailsTo, tagPeople, unsubscribe } from "../../src/server/people";
import { personOfContact } from "../../src/store/people/persons";
import { Contact, EmailMessage, Order, PersonTag } from "../../src/store/tables";
import { addPartner, advance, buy, buyer, clickBy, openLaunch, sentBy, someone, startWorld, visitor, type World } from "../support/world";
import { recordTouch } from "../../src/server/partners/touch";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const joins = async (name: string, firstName = name, who = visitor()) => {
  const email = `${name.toLowerCase()}.${randomUUID().slice(0, 8)}@heddle.example`;
  await optIn(em(), context, { email, firstName, answers: {} }, sentBy(who.visitorId, now(), { page: "" }));
  const contact = await em().findOneOrFail(Contact, { email, test: false });
  return { email, who, id: contact.id, personId: contact.personId };
};
/** The elder, who only opted in; and the younger, who came by a partner's link and bought. */
const two = async () => {
  const elder = await joins("Una");
  await advance(world, 1 / 60);
  const younger = await joins("Tove");
  const { order } = await buy(world, context, younger.who, { ...buyer("PT"), email: younger.email, firstName: "Tove" });
  await tagPeople(em(), world.owner, { people: [younger.personId], tag: "spinner", set: true }, now());
  return { elder, younger, order: order! };
};

describe("two records of one person", () => {
  it("become the elder's: orders, tags and deeds move, and the other address leads to it", async () => {
    const { elder, younger, order } = await two();
    expect(await mergeOf(em(), world.owner, younger.personId, elder.personId)).toMatchObject({
      keeps: elder.email,
      joins: younger.email,
      orders: 1,
      tags: 1,
      launches: 1,
      unsubscribed: false,
    });
    expect(await mergePeople(em(), world.owner, younger.personId, elder.personId, now())).toEqual({ id: elder.personId });
    const record = await personRecordOf(em(), younger.personId, new Date(now().getTime() + 1_000));
    expect(record).toMatchObject({ id: elder.personId, contact: { email: elder.email, otherEmails: [younger.email] } });
    const { owned } = await accessOfPerson(em(), elder.personId, new Date(now().getTime() + 1_000));
    expect(owned).toMatchObject([{ open: true, via: { kind: "order", id: order.id } }]);
    expect(record.timeline.map(({ is }) => is)).toEqual(expect.arrayContaining(["order", "tag", "opt_in"]));
    expect(await em().findOneOrFail(Order, { id: order.id })).toMatchObject({ contactId: elder.id, personId: elder.personId });
    expect(await em().count(PersonTag, { personId: elder.personId, tag: "spinner" })).toBe(1);
    // Found once, by either address.
    for (const { email } of [elder, younger]) {
      const { people, all } = await listPeople(em(), { find: email, who: "paid", sort: "name" }, { now: new Date(now().getTime() + 1_000) });
      expect([all, people.map((one) => one.email)]).toEqual([1, [elder.email]]);
    }
    // What they do under the other address is theirs.
    const again = visitor();
    await optIn(em(), context, { email: younger.email, firstName: "", answers: {} }, sentBy(again.visitorId, now(), { page: "" }));
    const { order: more } = await buy(world, context, again, { ...buyer("PT"), email: younger.email, firstName: "Tove" });
    expect(more).toMatchObject({ contactId: elder.id, personId: elder.personId });
    await expect(mergePeople(em(), world.owner, younger.personId, elder.personId, now())).rejects.toMatchObject({ code: "not_found" });
    await expect(mergePeople(em(), world.owner, elder.personId, elder.personId, now())).rejects.toMatchObject({ code: "same_person" });
  });

  it("are the same one record, whichever is merged into which, and at once from both sides", async () => {
    const results = [];
    for (const flip of [false, true]) {
      const { elder, younger } = await two();
      const [a, b] = flip ? [elder, younger] : [younger, elder];
      await mergePeople(em(), world.owner, a.personId, b.personId, now());
      const { contact, tags, consents, merged, browsers } = await personRecordOf(em(), elder.personId, new Date(now().getTime() + 1_000));
      results.push({
        firstName: contact!.firstName,
        others: contact!.otherEmails.length,
        tags: tags.length,
        owns: (await accessOfPerson(em(), elder.personId, new Date(now().getTime() + 1_000))).owned.length,
        consents: consents.length,
        merged,
        browsers,
      });
    }
    expect(results[0]).toEqual(results[1]);
    const { elder, younger } = await two();
    const both = await Promise.allSettled([
      mergePeople(em(), world.owner, elder.personId, younger.personId, now()),
      mergePeople(em(), world.owner, younger.personId, elder.personId, now()),
    ]);
    expect(both.filter(({ status }) => status === "fulfilled")).toHaveLength(1);
  });

  it("get each email once, and none after either has unsubscribed", async () => {
    const { elder, younger } = await two();
    for (const { id } of [elder, younger])
      await em().insert(EmailMessage, {
        id: randomUUID(),
        key: `bell:opens:${id}`,
        kind: "bell",
        launchId: context.launch.id,
        contactId: id,
        checkoutId: null,
        dueAt: new Date(now().getTime() + 86_400_000),
        state: "due",
        data: {} as never,
      });
    await stopEmailsTo(em(), world.owner, younger.personId, now());
    expect(await mergeOf(em(), world.owner, elder.personId, younger.personId)).toMatchObject({ unsubscribed: true });
    await mergePeople(em(), world.owner, elder.personId, younger.personId, now());
    expect(await em().count(EmailMessage, { contactId: elder.id, kind: "bell", state: "due" })).toBe(1);
    expect(await em().count(EmailMessage, { contactId: elder.id, kind: "bell", stoppedBecause: "merged" })).toBe(1);
    expect(await em().findOneOrFail(Contact, { id: elder.id })).toMatchObject({ unsubscribedAt: expect.any(Date) as Date });
  });

  it("are one behind every link that was sent to either", async () => {
    const { elder, younger } = await two();
    await mergePeople(em(), world.owner, elder.personId, younger.personId, now());
    expect(await personOfContact(em(), younger.id)).toBe(elder.personId);
    const link = libraryHref(world.app, younger.id, 1).split("t=")[1]!;
    const token = await openLibrary(world.app, link, undefined);
    expect(await buyerOf(em(), token, now())).toMatchObject({ id: elder.id, provenAt: null });
    await unsubscribe(em(), younger.id, now());
    expect(await em().findOneOrFail(Contact, { id: elder.id })).toMatchObject({ unsubscribedAt: expect.any(Date) as Date });
  });

  it("share the clicks that led either here, and are erased with every address", async () => {
    const partner = await addPartner(world, "merger");
    const { elder, younger, order } = await two();
    await recordTouch(em(), context.launch.id, clickBy("merger"), younger.who.visitorId, now());
    await mergePeople(em(), world.owner, elder.personId, younger.personId, now());
    const record = await personRecordOf(em(), elder.personId, new Date(now().getTime() + 1_000));
    expect(record.launches).toMatchObject([{ credited: partner.name, touches: 1 }]);
    await em().execute("update charge set state = 'succeeded', settled_at = now() where state in ('pending', 'authorized')");
    await erasePerson(world.app, em(), world.owner, elder.personId, now());
    expect(await em().count(Contact, { email: { $in: [elder.email, younger.email] } })).toBe(0);
    expect(await em().execute("select order_id from erased_buyer where order_id = ?", [order.id])).toHaveLength(1);
  });

  it("are merged by nobody who may only look", async () => {
    const { elder, younger } = await two();
    for (const attempt of [
      () => mergeOf(em(), someone("viewer"), elder.personId, younger.personId),
      () => mergePeople(em(), someone("finance"), elder.personId, younger.personId, now()),
    ])
      await expect(attempt()).rejects.toMatchObject({ code: "not_allowed" });
  });
});
