import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { namedBy, conditionSentence } from "../../src/core/conditions";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import {
  changeFilter,
  countFilters,
  deleteFilter,
  filterChoices,
  knownWords,
  listFilters,
  listPeople,
  saveFilter,
  tagAllPeople,
} from "../../src/server/people";
import { optIn } from "../../src/server/people/optIn";
import { Contact, Launch, Product } from "../../src/store/tables";
import { buy, buyer, openLaunch, sentBy, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
let contexts: LaunchContext[];
beforeAll(async () => {
  world = await startWorld();
  contexts = [await openLaunch(world), await openLaunch(world)];
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const joins = async (context: LaunchContext, answers: Record<string, string> = {}): Promise<string> => {
  const email = `una.${randomUUID().slice(0, 8)}@heddle.example`;
  const { visitorId } = visitor();
  await optIn(em(), context, { email, firstName: "Una", answers }, sentBy(visitorId, now(), { page: "", consent: "Write to me." }));
  await em().nativeUpdate(Contact, { email }, { answers, consentAt: now() });
  return email;
};
const found = async (who: string, find = "") =>
  (await listPeople(em(), { find, who, sort: "email" }, { now: new Date(now().getTime() + 1_000) })).people.map(({ email }) => email);

describe("people of all launches", () => {
  it("are found by what they did in one of them, what they answered, and whether they may be written to", async () => {
    const [first, second] = contexts.map(({ launch }) => launch.name);
    await em().nativeUpdate(Launch, { id: contexts[1]!.launch.id }, { name: `${second} again` });
    const { names } = namedBy((await filterChoices(em())).things);
    const [here, there] = contexts.map(({ launch }) => names.launch(launch.id));
    expect([here, there]).toEqual([first, `${second} again`]);
    const [a, b] = [await joins(contexts[0]!, { Needles: "5 mm" }), await joins(contexts[1]!, { Needles: "6 mm" })];
    expect(await found(`opted in of launch "${here}" within 14 days`)).toEqual([a]);
    expect(await found(`all of (opted in; none of (opted in of launch "${here}"))`)).toEqual([b]);
    expect(await found('answered "Needles" with a text starting with "6"')).toEqual([b]);
    expect(await found('answered "needles" with text "6 mm"')).toEqual([]);
    expect((await found("may be written to")).sort()).toEqual([a, b].sort());
    await em().nativeUpdate(Contact, { email: a }, { unsubscribedAt: now() });
    expect(await found("may be written to")).toEqual([b]);
    // What is typed narrows further.
    expect(await found("opted in", a)).toEqual([a]);
    expect(await found("opted in", "nobody")).toEqual([]);
    expect((await knownWords(em())).questions).toEqual(["Needles"]);
  });

  it("are refused with the place in the sentence that is not understood", async () => {
    await expect(found("opted in; bought")).rejects.toMatchObject({ faults: { who: { code: "sentence", text: "; bought" } } });
    await expect(found('opted in of launch "No such"')).rejects.toMatchObject({ faults: { who: { why: "unknown_name" } } });
  });
});

describe("a saved filter", () => {
  it("counts at once, keeps to its things when they are renamed, and is changed and deleted", async () => {
    const context = contexts[0]!;
    const { order } = await buy(world, context, visitor(), buyer("PT"));
    const product = await em().findOneOrFail(Product, { id: context.launch.mainProductId });
    const named = async () => namedBy((await filterChoices(em())).things).names.product(product.id);
    const { id } = await saveFilter(em(), world.owner, { name: " Buyers ".trim(), who: `paid of product "${await named()}"` }, now());
    expect(order).toBeDefined();
    expect(await listFilters(em())).toMatchObject([{ id, name: "Buyers" }]);
    expect(await countFilters(em(), { now: now() })).toEqual({ [id]: 1 });
    await em().nativeUpdate(Product, { id: product.id }, { name: "The workshop, renamed" });
    expect((await listFilters(em()))[0]!.who).toBe(
      conditionSentence(
        { did: "paid", product: product.id },
        { launch: String, product: () => "The workshop, renamed", step: String, partner: String, email: String },
      ),
    );
    await expect(saveFilter(em(), world.owner, { name: "buyers", who: "paid" }, now())).rejects.toMatchObject({
      faults: { name: { code: "filter_name_taken" } },
    });
    await changeFilter(em(), world.owner, id, { name: "On the list", who: "opted in" });
    const [filter] = await listFilters(em());
    expect(filter).toMatchObject({ name: "On the list", who: "opted in" });
    expect(await countFilters(em(), { now: now() })).toEqual({ [id]: (await found("opted in")).length });
    await deleteFilter(em(), world.owner, id);
    await deleteFilter(em(), world.owner, id);
    expect(await listFilters(em())).toEqual([]);
    await expect(changeFilter(em(), world.owner, id, { who: "paid" })).rejects.toMatchObject({ data: { code: "not_found", what: "filter" } });
  });

  it("is nothing for whoever may only look", async () => {
    const viewer = someone("viewer");
    for (const attempt of [
      () => saveFilter(em(), viewer, { name: "x", who: "paid" }, now()),
      () => changeFilter(em(), viewer, randomUUID(), { who: "paid" }),
      () => deleteFilter(em(), viewer, randomUUID()),
      () => tagAllPeople(em(), viewer, { find: "", who: "paid", tag: "x", set: true }, now()),
    ])
      await expect(attempt()).rejects.toMatchObject({ code: "not_allowed" });
  });
});

describe("everybody who is found", () => {
  it("is tagged at once, each once, and loses the tag at once", async () => {
    const people = (await found("opted in")).length;
    expect(people).toBeGreaterThan(1);
    const tag = (set: boolean, who = "opted in") => tagAllPeople(em(), world.owner, { find: "", who, tag: "wave", set }, now());
    expect(await tag(true)).toBe(people);
    expect(await tag(true)).toBe(0);
    expect((await found('is tagged "wave"')).length).toBe(people);
    expect(await tag(false, 'is tagged "wave"')).toBe(people);
    expect(await found('is tagged "wave"')).toEqual([]);
  });
});
