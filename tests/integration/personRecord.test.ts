import { randomUUID } from "node:crypto";
import { text } from "node:stream/consumers";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { ownedProduct } from "../../src/core/delivery";
import { accessOfPerson } from "../../src/server/delivery";
import { z } from "zod";
import { guessPlace, personRecord } from "../../src/core/people";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { recordTouch } from "../../src/server/partners/touch";
import {
  addField,
  correctPerson,
  deleteField,
  exportPerson,
  listFields,
  listPeople,
  optOutOfLaunch,
  personRecordOf,
  stopEmailsTo,
  tagPeople,
} from "../../src/server/people";
import { optIn } from "../../src/server/people/optIn";
import { peoplePage } from "../../src/store/people/find/peoplePage";
import { queueToList } from "../../src/store/emails/queueToList";
import { optOut } from "../../src/store/people/optOuts";
import { Contact, EmailMessage } from "../../src/store/tables";
import { addPartner, advance, buy, buyer, clickBy, openLaunch, sendEmail, sentBy, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
/** Somebody who came by a partner's link and opted in: their person and address. */
const subscriber = async (name = "Greet") => {
  const { visitorId } = visitor();
  const email = `${name.toLowerCase()}.${randomUUID().slice(0, 8)}@heddle.example`;
  await optIn(em(), context, { email, firstName: name, answers: {} }, sentBy(visitorId, now(), { page: "" }));
  const { personId } = await em().findOneOrFail(Contact, { email, test: false });
  return { visitorId, email, personId };
};
/** A record as the desk opens it to correct it. */
const seenOf = async (personId: string) => {
  const { email, firstName, lastName, phone, country, zone, language, answers } = (await record(personId)).contact!;
  return { email, firstName, lastName, phone, country, zone, language, answers };
};
const record = (personId: string, asOf = now()) => personRecordOf(em(), personId, asOf);

describe("the record of one person", () => {
  it("holds what they agreed to, in the words and on the form, as proof", async () => {
    const { personId, email } = await subscriber();
    const { contact, consents } = await record(personId);
    expect(contact).toMatchObject({ email, firstName: "Greet", unsubscribedAt: null });
    expect(consents).toMatchObject([{ words: "Yes, you may write to me.", form: "form", page: "", launch: context.launch.name }]);
    expect(consents[0]!.askedAt).toEqual(consents[0]!.confirmedAt);
  });

  it("tells what happened in its order, as of any instant", async () => {
    const partner = await addPartner(world, `skerry-${randomUUID().slice(0, 4)}`);
    const { visitorId, personId, email } = await subscriber();
    await recordTouch(em(), context.launch.id, clickBy(partner.code), visitorId, now());
    const before = now();
    await advance(world, 5);
    const { order } = await buy(world, context, { visitorId, from: "127.0.0.1" }, { ...buyer(), email });
    await advance(world, 1);
    const { timeline, launches } = await record(personId);
    const kinds = timeline.map(({ is }) => is);
    for (const [first, then] of [
      ["opt_in", "checkout"],
      ["touch", "checkout"],
      ["checkout", "order"],
    ] as const)
      expect(kinds.indexOf(first)).toBeLessThan(kinds.indexOf(then));
    expect(timeline.find(({ is }) => is === "order")).toMatchObject({ number: order!.number, minor: 14_900, currency: "EUR" });
    expect((await accessOfPerson(em(), personId, now())).owned).toMatchObject([{ open: true, via: { number: order!.number } }]);
    expect(launches).toMatchObject([{ slug: context.launch.slug, credited: partner.name, touches: 1 }]);
    expect((await record(personId, before)).timeline.map(({ is }) => is)).not.toContain("order");
    expect((await accessOfPerson(em(), personId, before)).owned).toEqual([]);
  });

  it("is handed out in an open format", async () => {
    const { personId, email } = await subscriber();
    const { order } = await buy(world, context, visitor(), { ...buyer(), email });
    const { name, type, body } = await exportPerson(em(), world.owner, personId, now());
    expect([name, type]).toEqual([`person-${personId}.json`, "application/json"]);
    const read = z.object({ version: z.literal(2), record: personRecord, owns: z.array(ownedProduct) }).parse(JSON.parse(await text(body)));
    expect(read.record).toEqual(await record(personId));
    expect(read.record.contact!.email).toBe(email);
    expect(read.owns).toMatchObject([{ open: true, via: { kind: "order", number: order!.number } }]);
    await expect(exportPerson(em(), someone("viewer"), personId, now())).rejects.toMatchObject({ code: "not_allowed" });
  });

  it("of somebody who was merged into another is the other's, and of nobody is refused", async () => {
    const { personId } = await subscriber();
    const from = randomUUID();
    await em().execute("insert into person (id, created_at, merged_into) values (?, ?, ?)", [from, now(), personId]);
    expect((await record(from)).id).toBe(personId);
    expect((await record(personId)).merged).toBe(1);
    await expect(record(randomUUID())).rejects.toMatchObject({ code: "not_found" });
  });
});

describe("what the desk changes of a person", () => {
  it("is a tag, set once however often it is set, and of many at once", async () => {
    const [one, two] = [await subscriber("Una"), await subscriber("Tove")];
    const people = [one.personId, two.personId];
    expect(await tagPeople(em(), world.owner, { people, tag: "spinner", set: true }, now())).toBe(2);
    expect(await tagPeople(em(), world.owner, { people: [...people, randomUUID()], tag: "spinner", set: true }, now())).toBe(0);
    expect((await record(one.personId)).tags).toMatchObject([{ tag: "spinner" }]);
    expect(await tagPeople(em(), world.owner, { people: [one.personId], tag: "spinner", set: false }, now())).toBe(1);
    expect((await record(one.personId)).tags).toEqual([]);
  });

  it("is a name or an address: a new address proves nothing yet, and another's is refused", async () => {
    const [one, two] = [await subscriber(), await subscriber()];
    await em().nativeUpdate(Contact, { personId: one.personId }, { provenAt: now() });
    const correction = { ...(await seenOf(one.personId)), firstName: "Grete", lastName: "Alder", country: "DE" };
    const correct = async (to: typeof correction) =>
      correctPerson(em(), world.owner, one.personId, { ...to, seen: await seenOf(one.personId) }, now());
    await correct(correction);
    expect((await record(one.personId)).contact).toMatchObject({ firstName: "Grete", lastName: "Alder", country: "DE" });
    expect((await record(one.personId)).contact!.provenAt).not.toBeNull();
    await expect(correct({ ...correction, email: two.email })).rejects.toMatchObject({
      faults: { email: { code: "address_taken" } },
    });
    const moved = `grete.${randomUUID().slice(0, 8)}@heddle.example`;
    await correct({ ...correction, email: moved });
    expect((await record(one.personId)).contact).toMatchObject({ email: moved, provenAt: null });
  });

  it("is where they are, what they read, and fields of the vendor's own, each only as it is declared", async () => {
    const { personId, email, visitorId } = await subscriber();
    const place = guessPlace("Atlantic/Azores", "pt-PT,pt;q=0.9");
    await optIn(em(), context, { email, answers: { Needles: "5 mm" } }, { ...sentBy(visitorId, now(), { page: "" }), place });
    expect(await record(personId)).toMatchObject({ guessedZone: "Atlantic/Azores", guessedLanguage: "pt" });
    // A form without script says nothing of the zone, and what was guessed stays.
    await optIn(em(), context, { email, answers: {} }, { ...sentBy(visitorId, now(), { page: "" }), place: guessPlace(undefined, "*") });
    expect((await record(personId)).guessedZone).toBe("Atlantic/Azores");
    const size = { name: `Size ${personId}`, kind: "choice" as const, choices: ["S", "M"] };
    await addField(em(), world.owner, size, now());
    await expect(addField(em(), world.owner, size, now())).rejects.toMatchObject({ faults: { name: { code: "field_name_taken" } } });
    const seen = await seenOf(personId);
    const to = (answers: Record<string, string>) => ({ ...seen, zone: "Europe/Lisbon", language: "en", answers, seen });
    await expect(correctPerson(em(), world.owner, personId, to({ [size.name]: "XL" }), now())).rejects.toMatchObject({
      faults: { [`answers.${size.name}`]: { code: "not_of_the_list" } },
    });
    await correctPerson(em(), world.owner, personId, to({ [size.name]: "M", Needles: "" }), now());
    expect((await record(personId)).contact).toMatchObject({ zone: "Europe/Lisbon", language: "en", answers: { [size.name]: "M" } });
    // Removed, it is asked for no more; what somebody has in it stays.
    await deleteField(em(), world.owner, size.name);
    expect((await listFields(em())).map(({ name }) => name)).not.toContain(size.name);
    expect((await record(personId)).contact!.answers).toEqual({ [size.name]: "M" });
  });

  it("is not what somebody else has changed since it was opened", async () => {
    const { personId } = await subscriber();
    const seen = await seenOf(personId);
    await correctPerson(em(), world.owner, personId, { ...seen, lastName: "Theirs", seen }, now());
    await expect(correctPerson(em(), world.owner, personId, { ...seen, lastName: "Mine", seen }, now())).rejects.toMatchObject({
      code: "changed_meanwhile",
      data: { what: "person" },
    });
    // Two at the same moment: one of them is told.
    const now2 = await seenOf(personId);
    const both = await Promise.allSettled(
      ["A", "B"].map((lastName) => correctPerson(em(), world.owner, personId, { ...now2, lastName, seen: now2 }, now())),
    );
    expect(both.filter(({ status }) => status === "fulfilled")).toHaveLength(1);
  });

  it("is that no emails of one launch go to them; what they asked for themselves, they alone undo", async () => {
    const { personId, email, visitorId } = await subscriber();
    const { id: contactId } = await em().findOneOrFail(Contact, { email });
    const put = (out: boolean) => optOutOfLaunch(em(), world.owner, { id: personId, slug: context.launch.slug, out }, now());
    const state = async () => (await record(personId)).launches.find(({ slug }) => slug === context.launch.slug)?.optedOut?.by;
    const queued = async () => {
      const key = `bell:${randomUUID()}`;
      await queueToList(
        em(),
        { launchId: context.launch.id, key, data: { email: "x" }, toBuyers: true, lastCall: false, dueAt: now() },
        { after: null, most: 1_000 },
      );
      return em().count(EmailMessage, { key: `${key}:${contactId}` });
    };
    expect(await queued()).toBe(1);
    await put(true);
    expect(await state()).toBe("desk");
    expect(await queued()).toBe(0);
    // One that was queued before is not sent either; mail about an order is.
    const [welcome] = await em().find(EmailMessage, { contactId, kind: "welcome" });
    await sendEmail(world, welcome!.id);
    expect(await em().findOneOrFail(EmailMessage, { id: welcome!.id })).toMatchObject({ state: "stopped", stoppedBecause: "launch_left" });
    await put(false);
    expect(await state()).toBeUndefined();
    await optOut(em(), contactId, context.launch.id, "reader", now());
    await expect(put(false)).rejects.toMatchObject({ code: "opted_out_themself" });
    await optIn(em(), context, { email, answers: {} }, sentBy(visitorId, now(), { page: "" }));
    expect(await state()).toBeUndefined();
  });

  it("is that no more emails go to them, from the first time it is asked", async () => {
    const { personId } = await subscriber();
    const before = now();
    await advance(world, 1);
    await stopEmailsTo(em(), world.owner, personId, now());
    const { contact } = await record(personId);
    expect((await record(personId, before)).contact!.unsubscribedAt).toBeNull();
    await advance(world, 3);
    await stopEmailsTo(em(), world.owner, personId, now());
    expect((await record(personId)).contact!.unsubscribedAt).toEqual(contact!.unsubscribedAt);
    expect((await record(personId)).timeline.at(-1)).toMatchObject({ is: "unsubscribed" });
  });

  it("is nothing for whoever may only look", async () => {
    const { personId } = await subscriber();
    const viewer = someone("viewer");
    const seen = await seenOf(personId);
    for (const attempt of [
      () => tagPeople(em(), viewer, { people: [personId], tag: "x", set: true }, now()),
      () => correctPerson(em(), viewer, personId, { ...seen, seen }, now()),
      () => optOutOfLaunch(em(), viewer, { id: personId, slug: context.launch.slug, out: true }, now()),
      () => addField(em(), viewer, { name: "Size", kind: "text", choices: [] }, now()),
      () => deleteField(em(), viewer, "Size"),
      () => stopEmailsTo(em(), viewer, personId, now()),
    ])
      await expect(attempt()).rejects.toMatchObject({ code: "not_allowed" });
  });
});

describe("the list of people", () => {
  it("is read to its end part by part, each once, by every column both ways", async () => {
    for (const name of ["Bram", "Ines", "Oona", "Finn"]) await subscriber(name);
    const { all } = await listPeople(em(), { find: "", who: "", sort: "-since" }, { now: now() });
    for (const by of ["name", "email", "country", "since", "spent"] as const)
      for (const down of [true, false]) {
        const ids: string[] = [];
        const keys: (string | number)[] = [];
        for (let after: string | undefined; ;) {
          const part = await peoplePage(em(), { find: "", by, down, most: 3, after }, { now: now() });
          ids.push(...part.people.map(({ id }) => id));
          keys.push(
            ...part.people.map((one) => (by === "since" ? one.since.getTime() : by === "spent" ? (one.spent[0]?.minor ?? 0) : one[by].toLowerCase())),
          );
          if (part.next === undefined) break;
          after = part.next;
        }
        expect([by, down, new Set(ids).size, ids.length]).toEqual([by, down, all, all]);
        if (by === "since" || by === "spent") expect(keys).toEqual([...keys].sort((a, b) => (down ? Number(b) - Number(a) : Number(a) - Number(b))));
      }
  });

  it("finds by any part of a name or an address, and says how many may be written to", async () => {
    const { email, personId } = await subscriber("Xanthippe");
    const found = (find: string) => listPeople(em(), { find, who: "", sort: "name" }, { now: now() });
    for (const find of ["xanth", "THIPPE", email.slice(3, 20)]) expect((await found(find)).people.map(({ id }) => id)).toEqual([personId]);
    expect(await found("xanthippe")).toMatchObject({ all: 1, mayWrite: 1 });
    await stopEmailsTo(em(), world.owner, personId, now());
    await advance(world, 1);
    expect(await found("xanthippe")).toMatchObject({ all: 1, mayWrite: 0, people: [{ mayWrite: false }] });
    expect(await found("100%_\\")).toMatchObject({ all: 0, people: [], next: undefined });
  });
});

describe("a cursor that is none of ours", () => {
  it("begins the list anew, whoever made it up", async () => {
    const first = await listPeople(em(), { find: "", who: "", sort: "-since" }, { now: now() });
    for (const after of ["", "{", "[]", '["soon",5]', `["soon","${randomUUID()}"]`, `["2026-11-28 10:00:00+00",5]`])
      expect((await listPeople(em(), { find: "", who: "", sort: "-since", after }, { now: now() })).people).toEqual(first.people);
  });
});
