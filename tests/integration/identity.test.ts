import { randomUUID } from "node:crypto";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { restoreCheckout, startCheckout } from "../../src/server/checkout/checkout";
import { answerPage, countFirstVisit } from "../../src/server/site/answer";
import { firstVisitOf, visitorOf } from "../../src/server/platform/http/publicRequest";
import { recordTouch } from "../../src/server/partners/touch";
import { libraryHref, libraryLinkOwner, openLibrary } from "../../src/server/delivery/buyers";
import { EventLog } from "../../src/server/platform/eventLog";
import { becomePerson, contactOf, personOf } from "../../src/server/identity/identity";
import { Contact } from "../../src/store/tables";
import { partnerStats } from "../../src/store/partners/partnerStats";
import { addPartner, buy, buyer, clickBy, openLaunch, startWorld, until, visitor, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const clicksOf = async (id: string) => (await partnerStats(em(), { now: now(), launchId: context.launch.id }, [id]))[0]!.clicks;

describe("a click on a partner's link", () => {
  it("stays one click, however often a shared browser changes hands", async () => {
    const partner = await addPartner(world, "shared");
    await fc.assert(
      fc.asyncProperty(fc.array(fc.integer({ min: 0, max: 4 }), { minLength: 1, maxLength: 14 }), async (order) => {
        const before = await clicksOf(partner.id);
        const { visitorId } = visitor();
        const people = Array.from({ length: 5 }, () => buyer().email);
        await recordTouch(em(), context.launch.id, clickBy("shared"), visitorId, now());
        for (const who of order) await em().transactional((tx) => contactOf(tx, visitorId, { email: people[who]!, firstName: "Ada" }, now()));
        expect(await clicksOf(partner.id)).toBe(before + 1);
        // Whoever used the browser since is credited to it all the same.
        for (const email of new Set(order.map((who) => people[who]!))) {
          const { personId } = await em().findOneOrFail(Contact, { email });
          expect(await em().execute("select 1 from touch_person where person_id = ?", [personId])).toHaveLength(1);
        }
      }),
      { numRuns: 12 },
    );
  });

  it("keeps its page, its source, and up to five marks of the partner", async () => {
    const partner = await addPartner(world, "marks");
    const query = new URLSearchParams("p=marks&utm_source=email-7&sub1=a&sub3=c&sub5=e&sub6=never");
    const first = await answerPage(world.app, { slug: context.launch.slug, path: "join", query, visitorId: randomUUID() });
    expect(first).toMatchObject({ status: 303, headers: { location: `/l/${context.launch.slug}/join?utm_source=email-7&sub6=never` } });
    expect(await em().execute("select page, source, sub_ids from touch where partner_id = ?", [partner.id])).toEqual([
      { page: "sales", source: "email-7", sub_ids: ["a", "", "c", "", "e"] },
    ]);
  });
});

describe("a first visit", () => {
  const visit = async (query: Record<string, string> = {}, cookies?: string) =>
    answerPage(world.app, {
      slug: context.launch.slug,
      path: "join",
      query: new URLSearchParams(query),
      visitorId: visitorOf(cookies),
      firstVisit: firstVisitOf(cookies),
    });
  const jar = (answer: { cookies?: string[] }) => (answer.cookies ?? []).map((one) => one.split(";")[0]!).join("; ");
  const seen = async (visitorId: string) => {
    await world.app.events.flush();
    return Number((await em().execute<{ n: string }[]>("select count(*) as n from event where person_id = ?", [visitorId]))[0]!.n);
  };

  it("of a program that keeps no cookie counts nowhere, neither as a person nor as a click", async () => {
    const partner = await addPartner(world, "crawled");
    const people = async () =>
      Number((await em().execute<{ n: string }[]>("select count(*) as n from stage_rollup where launch_id = ?", [context.launch.id]))[0]!.n);
    const before = await people();
    for (let n = 0; n < 5; n += 1) {
      await visit({ p: "crawled" });
      await visit();
    }
    await world.app.events.flush();
    expect(await people()).toBe(before);
    expect(await clicksOf(partner.id)).toBe(0);
  });
  it("counts when the browser comes back with its cookies: with the page's script, or on the next page", async () => {
    const first = await visit();
    const cookies = jar(first);
    const visitorId = visitorOf(cookies)!;
    expect(await seen(visitorId)).toBe(0);
    expect(await countFirstVisit(world.app, { visitorId, firstVisit: firstVisitOf(cookies) })).toBe(true);
    expect(await seen(visitorId)).toBe(1);
    const other = jar(await visit());
    const next = await visit({}, other);
    expect(next.cookies?.join()).toContain("ib_f=;");
    // Both pages: the one that waited, and this one.
    expect(await seen(visitorOf(other)!)).toBe(2);
  });
  it("through a partner's link is a click once the browser arrives, by the visitor that it is from then on", async () => {
    const partner = await addPartner(world, "arrives");
    const cookies = jar(await visit({ p: "arrives" }));
    expect(await clicksOf(partner.id)).toBe(0);
    await visit({}, cookies);
    expect(await clicksOf(partner.id)).toBe(1);
  });
  it("cannot be made up into anything else: what is no such cookie is passed over", () => {
    for (const value of [
      "x",
      "e30",
      Buffer.from('{"launch":"1"}').toString("base64url"),
      Buffer.from('{"launch":null,"view":{}}').toString("base64url"),
    ])
      expect(firstVisitOf(`ib_f=${value}`)).toBeUndefined();
  });
});

describe("opening somebody's link", () => {
  const person = async (visitorId: string) =>
    (await em().execute<{ person_id: string }[]>("select person_id from visitor where id = ?", [visitorId]))[0]!.person_id;

  it("to a checkout makes nobody another person: whoever uses the browser stays who they were", async () => {
    const owner = visitor();
    const checkout = await startCheckout(world.app, em(), context, buyer(), owner);
    const stranger = visitor();
    const before = await em().transactional((tx) => personOf(tx, stranger.visitorId, now()));
    await restoreCheckout(em(), context, checkout.id, stranger.visitorId, now());
    expect(await person(stranger.visitorId)).toBe(before);
    // A browser that has never been here has no other owner.
    const fresh = randomUUID();
    await restoreCheckout(em(), context, checkout.id, fresh, now());
    expect(await person(fresh)).toBe(checkout.personId);
  });
  it("to a library shows whose it is and changes nothing; the press opens it, once", async () => {
    const { order, person: who } = await buy(world, context);
    const token = new URL(libraryHref(world.app, order!.contactId, 1)).searchParams.get("t");
    const shown = await libraryLinkOwner(world.app, token);
    expect(shown).toMatch(/^a…@w…\.example$/);
    expect(shown).not.toBe(who.email);
    await libraryLinkOwner(world.app, token);
    const presses = await Promise.allSettled([1, 2, 3].map(() => openLibrary(world.app, token, randomUUID())));
    expect(presses.filter(({ status }) => status === "fulfilled")).toHaveLength(1);
    await expect(openLibrary(world.app, token, undefined)).rejects.toMatchObject({ code: "link_over" });
    // Another link to the same library is another link.
    const second = new URL(libraryHref(world.app, order!.contactId, 1)).searchParams.get("t");
    await expect(openLibrary(world.app, second, undefined)).resolves.toBeTypeOf("string");
  });
});

describe("visits under load", () => {
  it("are all counted once, while the people behind them turn out to be others", async () => {
    const log = new EventLog(() => world.app.fork(), world.app.log);
    const visitors = Array.from({ length: 60 }, () => randomUUID());
    const at = now();
    const launches = [context, await openLaunch(world), await openLaunch(world)];
    let written = 0;
    const write = async (round: number) => {
      for (const visitorId of visitors)
        for (const { launch } of launches) {
          log.add({
            launchId: launch.id,
            visitorId,
            kind: round % 2 ? "saw_sales" : "visited",
            at,
            page: round % 2 ? "sales" : "optin",
            data: { variant: "A" },
          });
          written += 1;
        }
      await log.flush();
    };
    const other = new EventLog(() => world.app.fork(), world.app.log);
    const merging = Array.from({ length: 30 }, (_, n) => async () => {
      const [a, b] = [visitors[2 * n]!, visitors[2 * n + 1]!];
      const person = await em().transactional((tx) => personOf(tx, a, at));
      await em().transactional((tx) => becomePerson(tx, b, person, at));
    });
    const more = async () => {
      for (const visitorId of [...visitors].reverse())
        other.add({ launchId: context.launch.id, visitorId, kind: "visited", at, page: "optin", data: { variant: "A" } });
      written += visitors.length;
      await other.flush();
    };
    await Promise.all([write(0), ...merging.map((merge) => merge()), write(1), more(), write(2), more(), write(3)]);
    const found = async () =>
      Number(
        (
          await em().execute<{ n: string }[]>("select count(*) as n from event where at = ? and launch_id = any(?::uuid[])", [
            at,
            `{${launches.map(({ launch }) => launch.id).join(",")}}`,
          ])
        )[0]!.n,
      );
    await until(async () => (await found()) === written);
    // A batch that the database ended is written again, and no event of it twice.
    expect(await found()).toBe(written);
    await Promise.all([log.stop(), other.stop()]);
  });
});
