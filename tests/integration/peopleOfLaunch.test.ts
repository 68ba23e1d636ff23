import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { seedDemo } from "../../demo/seed";
import { stages } from "../../src/core/events";
import { peopleAtStage, peopleLost, peopleOfPage } from "../../src/core/figures";
import { windowFor } from "../../src/core/launch";
import { conditionSentence, type Condition, namedBy } from "../../src/core/conditions";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import { writeEvents, type LoggedEvent } from "../../src/store/events/writeEvents";
import { conditionThings } from "../../src/server/people/conditionThings";
import { countPeopleOfLaunch, peopleOfLaunch } from "../../src/server/people/peopleOfLaunch";
import { Order, Vendor } from "../../src/store/tables";
import { pageFigures } from "../../src/store/pages/pageFigures";
import { launchFigures } from "../../src/store/launch/launchFigures";
import { peopleWho } from "../../src/store/people/find/peopleWho";
import { stageFunnel } from "../../src/store/leaks/stageFunnel";
import { buy, openLaunch, startWorld, type World } from "../support/world";

let world: World;
let demo: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  await em().execute("delete from tax_rate");
  await em().nativeDelete(Vendor, {});
  await seedDemo(em(), world.app.files, world.app.clock.now());
  demo = (await loadLaunch(em(), { slug: "gansey" }))!;
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const plain = { launch: String, product: String, step: String, partner: String, email: String };
const count = async (context: LaunchContext, condition: Condition, pastAt?: Date) =>
  countPeopleOfLaunch(em(), context, {
    sentence: conditionSentence(condition, plain),
    now: pastAt ?? world.app.clock.now(),
    past: pastAt !== undefined,
  });

describe("the people behind a figure", () => {
  it("are as many as the figure says, now and at an instant of the past", async () => {
    const [opened, now] = [windowFor(demo.plan, {}, world.app.clock.now())!.opens.getTime(), world.app.clock.now().getTime()];
    for (const pastAt of [undefined, new Date(opened + 0.7 * (now - opened))]) {
      const scope = { launchId: demo.launch.id, now: pastAt ?? world.app.clock.now(), past: pastAt !== undefined };
      const funnel = await stageFunnel(em(), scope);
      expect(funnel.paid).toBeGreaterThan(10);
      for (const stage of stages) expect([stage, await count(demo, peopleAtStage(stage), pastAt)]).toEqual([stage, funnel[stage]]);
      expect(await count(demo, peopleLost("began_checkout", "paid"), pastAt)).toBe(funnel.began_checkout - funnel.paid);
      const figures = await pageFigures(em(), scope);
      for (const page of new Set(figures.map((figure) => figure.page))) {
        const sum = (of: "people" | "optedIn" | "began" | "paid") =>
          figures.filter((one) => one.page === page).reduce((all, one) => all + one[of], 0);
        expect([page, await count(demo, peopleOfPage(page), pastAt)]).toEqual([page, sum("people")]);
        expect([page, await count(demo, peopleOfPage(page, "paid"), pastAt)]).toEqual([page, sum("paid")]);
      }
    }
  });

  it("are listed page by page, each once, with what is known of them", async () => {
    const listed: string[] = [];
    for (let after: string | undefined; ;) {
      const page = await peopleOfLaunch(em(), demo, { sentence: "paid", now: world.app.clock.now(), ...(after ? { after } : {}) });
      listed.push(...page.people.map(({ id }) => id));
      expect(page.people.every(({ contact, first }) => contact?.email && first.paid)).toBe(true);
      if (!page.next) break;
      after = page.next;
    }
    expect(listed.length).toBeGreaterThan(100);
    expect(new Set(listed).size).toBe(listed.length);
    expect(listed).toHaveLength((await stageFunnel(em(), { launchId: demo.launch.id, now: world.app.clock.now() })).paid);
  });

  it("of one country reach their stages and place their orders as a scope with that condition says", async () => {
    const scope = { launchId: demo.launch.id, now: world.app.clock.now() };
    const fromPortugal: Condition = { country: ["PT"] };
    const [all, some, rest] = await Promise.all(
      [undefined, fromPortugal, { none: [fromPortugal] }].map(async (condition) => ({
        funnel: await stageFunnel(em(), { ...scope, condition }),
        figures: (await launchFigures(em(), { ...scope, condition })).get(demo.launch.id)!,
      })),
    );
    for (const stage of stages) {
      expect([stage, some!.funnel[stage] + rest!.funnel[stage]]).toEqual([stage, all!.funnel[stage]]);
      expect(some!.funnel[stage]).toBe(await count(demo, { all: [fromPortugal, peopleAtStage(stage)] }));
    }
    expect(some!.figures.orders).toBeGreaterThan(5);
    expect(some!.figures.orders + rest!.figures.orders).toBe(all!.figures.orders);
    expect(some!.figures.grossMinor + rest!.figures.grossMinor).toBe(all!.figures.grossMinor);
    // The very people who are listed, and nobody else's orders.
    const ids = await peopleWho(em(), { all: [fromPortugal, { did: "paid" }] }, scope, { most: 5_000 });
    expect(await em().count(Order, { launchId: demo.launch.id, personId: { $in: ids }, test: false })).toBe(some!.figures.orders);
  });

  it("are asked for by the names of things, and of this launch alone", async () => {
    const { names, ids } = namedBy(await conditionThings(em(), demo.launch.id));
    const step = demo.savedPath.path.steps[0]!;
    expect(ids.step(names.step(step.id))).toBe(step.id);
    const asked = await peopleOfLaunch(em(), demo, { sentence: `accepted an offer at step "${names.step(step.id)}"`, now: world.app.clock.now() });
    expect(asked.refusal).toBeUndefined();
    expect(asked.people.length).toBeGreaterThan(3);
    const own = await openLaunch(world);
    await buy(world, own);
    expect((await peopleOfLaunch(em(), own, { sentence: "", now: world.app.clock.now() })).people).toHaveLength(1);
    expect(await countPeopleOfLaunch(em(), own, { sentence: "", now: world.app.clock.now() })).toBe(1);
    const refused = await peopleOfLaunch(em(), own, { sentence: 'paid of product "No such thing"', now: world.app.clock.now() });
    expect(refused).toMatchObject({ refusal: { code: "unknown_name", at: 16 }, people: [], sentence: 'paid of product "No such thing"' });
    await expect(countPeopleOfLaunch(em(), own, { sentence: "bought", now: world.app.clock.now() })).rejects.toMatchObject({ status: 422 });
  });

  it("who only looked have no address", async () => {
    const own = await openLaunch(world);
    const seen: LoggedEvent = {
      launchId: own.launch.id,
      visitorId: randomUUID(),
      kind: "saw_sales",
      at: world.app.clock.now(),
      page: "sales",
      data: { variant: "A", source: "fair" },
    };
    await em().transactional((tx) => writeEvents(tx, [seen]));
    const { people } = await peopleOfLaunch(em(), own, { sentence: 'came from source "fair"', now: world.app.clock.now() });
    expect(people).toMatchObject([{ id: seen.visitorId, source: "fair", country: null }]);
    expect(people[0]!.contact).toBeUndefined();
  });
});
