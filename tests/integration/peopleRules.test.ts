import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { conditionSentence, type Condition } from "../../src/core/conditions";
import { ruleAction, type RuleAction } from "../../src/core/people";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { addRule, deleteRule, listRules, runRules, tagPeople } from "../../src/server/people";
import { optIn } from "../../src/server/people/optIn";
import { changedPeople } from "../../src/store/people/rules";
import { Contact, PersonTag, PeopleRule } from "../../src/store/tables";
import { advance, buy, openLaunch, sentBy, someone, startWorld, until, visitor, withWorker, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
});
afterAll(() => world.stop());
beforeEach(() => em().nativeDelete(PeopleRule, {}));

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const joins = async () => {
  const email = `una.${randomUUID().slice(0, 8)}@heddle.example`;
  const { visitorId } = visitor();
  await optIn(em(), context, { email, firstName: "Una", answers: {} }, sentBy(visitorId, now(), { page: "" }));
  const { id, personId } = await em().findOneOrFail(Contact, { email });
  return { email, visitorId, personId, contactId: id };
};
const buys = ({ visitorId, email }: { visitorId: string; email: string }) =>
  buy(world, context, { visitorId, from: "127.0.0.1" }, { email, firstName: "Una", country: "PT" });
const names = { launch: () => context.launch.name, product: () => context.product.name, step: String, partner: String, email: String };
const rule = (condition: Condition, action: RuleAction, everybody = false) =>
  addRule(em(), world.owner, { who: conditionSentence(condition, names), action, everybody }, now());
const tagsOf = async (personId: string) => (await em().find(PersonTag, { personId }, { orderBy: { tag: 1 } })).map(({ tag }) => tag);
const run = async () => {
  await advance(world, 1);
  await runRules(world.app);
};
const bought: Condition = { did: "paid" };

describe("a rule", () => {
  it("tags whoever buys from then on, once; whoever had bought before is left as they are", async () => {
    const [before, after, never] = [await joins(), await joins(), await joins()];
    await buys(before);
    await rule(bought, { does: "tag", tag: "knitter" });
    await buys(after);
    await run();
    expect([await tagsOf(before.personId), await tagsOf(after.personId), await tagsOf(never.personId)]).toEqual([[], ["knitter"], []]);
    expect(await listRules(em())).toMatchObject([{ who: "paid", people: 1 }]);
    // Whom the desk took the tag from, it is not set on again, whatever they do.
    await tagPeople(em(), world.owner, { people: [after.personId], tag: "knitter", set: false }, now());
    await buys(after);
    await run();
    expect(await tagsOf(after.personId)).toEqual([]);
  });

  it("deals with those who meet it already where it is told to, and says how many they are", async () => {
    const one = await joins();
    await buys(one);
    const { people } = await rule({ all: [bought, { tag: `only ${one.personId}` }] }, { does: "tag", tag: "early" }, true);
    expect(people).toBe(0);
    await tagPeople(em(), world.owner, { people: [one.personId], tag: `only ${one.personId}`, set: true }, now());
    const again = await rule({ all: [bought, { tag: `only ${one.personId}` }] }, { does: "tag", tag: "late" }, true);
    expect(again.people).toBe(1);
    await run();
    expect(await tagsOf(one.personId)).toEqual(["early", "late", `only ${one.personId}`]);
  });

  it("follows another rule's tag, removes tags, fills fields, and takes people off a launch's emails", async () => {
    const one = await joins();
    await tagPeople(em(), world.owner, { people: [one.personId], tag: "prospect", set: true }, now());
    await rule(bought, { does: "tag", tag: "buyer" });
    await rule({ tag: "buyer" }, { does: "untag", tag: "prospect" });
    await rule({ tag: "buyer" }, { does: "fill", field: "Stage", value: "bought" });
    await rule({ answered: { question: "Stage", text: { is: "equals", text: "bought" } } }, { does: "leave", launch: context.launch.id });
    await buys(one);
    await run();
    expect(await tagsOf(one.personId)).toEqual(["buyer"]);
    expect((await em().findOneOrFail(Contact, { id: one.contactId })).answers).toMatchObject({ Stage: "bought" });
    const out = await em().execute("select made_by from launch_opt_out where contact_id = ?", [one.contactId]);
    expect(out).toEqual([{ made_by: "rule" }]);
  });

  it("deals with each person once, however many workers look at the same moment", async () => {
    await rule(bought, { does: "tag", tag: "crowded" });
    const crowd = await Promise.all(Array.from({ length: 6 }, joins));
    for (const one of crowd) await buys(one);
    await advance(world, 1);
    await Promise.all(Array.from({ length: 4 }, () => runRules(world.app)));
    await run();
    for (const { personId } of crowd) expect(await tagsOf(personId)).toEqual(["crowded"]);
    expect(await listRules(em())).toMatchObject([{ people: crowd.length }]);
  });

  it("is looked after by the worker, within seconds", async () => {
    await rule({ did: "opted_in" }, { does: "tag", tag: "new here" });
    await withWorker(world, async () => {
      const { personId } = await joins();
      await until(async () => (await tagsOf(personId)).includes("new here"));
    });
  });

  it("ends, and what it did stays", async () => {
    const [one, two] = [await joins(), await joins()];
    await rule(bought, { does: "tag", tag: "over" });
    await buys(one);
    await run();
    for (const { id } of await listRules(em())) await deleteRule(em(), world.owner, id);
    await buys(two);
    await run();
    expect([await tagsOf(one.personId), await tagsOf(two.personId)]).toEqual([["over"], []]);
  });

  it("is refused without a condition, with a launch that is none, and for whoever may only look", async () => {
    const action: RuleAction = { does: "tag", tag: "x" };
    const make = (user = world.owner, who = "paid", does: RuleAction = action) => addRule(em(), user, { who, action: does, everybody: true }, now());
    await expect(make(world.owner, " ")).rejects.toMatchObject({ faults: { who: { code: "words_missing" } } });
    await expect(make(world.owner, "bought")).rejects.toMatchObject({ faults: { who: { code: "sentence" } } });
    await expect(make(world.owner, "paid", { does: "leave", launch: randomUUID() })).rejects.toMatchObject({ code: "not_found" });
    await expect(make(someone("viewer"))).rejects.toMatchObject({ code: "not_allowed" });
    await expect(deleteRule(em(), someone("viewer"), randomUUID())).rejects.toMatchObject({ code: "not_allowed" });
    expect(ruleAction.safeParse({ does: "tag", tag: " " }).success).toBe(false);
    expect(await listRules(em())).toEqual([]);
  });

  it("asks only for those for whom something changed", async () => {
    const since = now();
    await advance(world, 10);
    const [one, two] = [await joins(), await joins()];
    const mark = now();
    await advance(world, 10);
    await tagPeople(em(), world.owner, { people: [two.personId], tag: "late", set: true }, now());
    expect((await changedPeople(em(), new Date(mark.getTime() + 1_000)))!).toEqual([two.personId]);
    expect((await changedPeople(em(), since))!).toEqual(expect.arrayContaining([one.personId, two.personId]));
  });

  it("finds within the hour whom time alone makes meet it", async () => {
    const one = await joins();
    await tagPeople(em(), world.owner, { people: [one.personId], tag: "quiet", set: true }, now());
    await rule({ all: [{ tag: "quiet" }, { none: [{ did: "opted_in", withinDays: 2 }] }] }, { does: "tag", tag: "asleep" });
    await advance(world, 3 * 1440);
    // The doors have closed by then, so this comes last.
    await runRules(world.app);
    expect(await tagsOf(one.personId)).toEqual(["asleep", "quiet"]);
  });
});
