import Papa from "papaparse";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { audiences } from "../../src/core/retarget";
import { writeEvents } from "../../src/store/events/writeEvents";
import { optIn, unsubscribe } from "../../src/server/people/optIn";
import { startCheckout } from "../../src/server/checkout/checkout";
import { audienceFile, hashAddress } from "../../src/server/retarget/audienceFile";
import { Contact } from "../../src/store/tables";
import { audienceByCountry } from "../../src/store/people/find/audienceByCountry";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { buy, buyer, openLaunch, someone, startWorld, visitor, type World, sentBy } from "../support/world";

let world: World;
let context: LaunchContext;
const [looked, unfinished] = [audiences[0]!, audiences[1]!];
const people = { only: visitor(), listed: visitor(), left: visitor(), bought: visitor(), stopped: visitor() };
const emails = { listed: "listed@wool.example", left: buyer("DE"), bought: buyer(), stopped: "stopped@wool.example" };

beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
  const at = world.app.clock.now();
  const see = Object.values(people).map(({ visitorId }) => ({
    launchId: context.launch.id,
    visitorId,
    kind: "saw_sales" as const,
    at,
    page: "sales",
    country: "PT",
    data: { variant: "A" },
  }));
  await writeEvents(world.app.fork(), see);
  const list = (visitorId: string, email: string) =>
    optIn(world.app.fork(), context, { email, firstName: "Ada", answers: {} }, sentBy(visitorId, at));
  await list(people.listed.visitorId, ` ${emails.listed.toUpperCase()} `);
  await list(people.left.visitorId, emails.left.email);
  await list(people.stopped.visitorId, emails.stopped);
  await unsubscribe(world.app.fork(), (await world.app.fork().findOneOrFail(Contact, { email: emails.stopped })).id, at);
  await startCheckout(world.app, world.app.fork(), context, emails.left, people.left);
  await buy(world, context, people.bought, emails.bought);
});
afterAll(() => world.stop());

describe("audiences from the event log", () => {
  it("hold who saw the sales page and began no checkout, country by country", async () => {
    expect(await audienceByCountry(world.app.fork(), { launchId: context.launch.id, now: world.app.clock.now() }, looked)).toEqual([
      { country: "PT", people: 3, addresses: 1 },
    ]);
  });
  it("hold who began a checkout and did not buy, in the country they gave there", async () => {
    expect(await audienceByCountry(world.app.fork(), { launchId: context.launch.id, now: world.app.clock.now() }, unfinished)).toMatchObject([
      { people: 1, addresses: 1 },
    ]);
  });
  it("agree with the raw log", async () => {
    const [row] = await world.app.fork().execute<{ n: string }[]>(
      `select count(distinct person_id) as n from event e where launch_id = ? and kind = 'saw_sales' and not exists
       (select from event o where o.launch_id = e.launch_id and o.person_id = e.person_id and o.kind = 'began_checkout')`,
      [context.launch.id],
    );
    expect(Number(row!.n)).toBe(3);
  });
  it("belong to their launch alone", async () => {
    const other = await openLaunch(world);
    expect(await audienceByCountry(world.app.fork(), { launchId: other.launch.id, now: world.app.clock.now() }, looked)).toEqual([]);
  });
});

describe("the file of an audience", () => {
  const file = async (audience = looked) =>
    (await audienceFile(world.app.fork(), someone("editor"), context.launch.slug, audience.key, world.app.clock.now())).text();

  it("is read back by an independent parser: one hashed, normalised address a row, and only of who agreed", async () => {
    const parsed = Papa.parse<Record<string, string>>(await file(), { header: true, skipEmptyLines: true });
    expect(parsed.errors).toEqual([]);
    expect(parsed.data).toEqual([{ email_sha256: hashAddress("listed@wool.example"), country: "PT" }]);
  });
  it("names nobody in clear, and ends its lines as RFC 4180 says", async () => {
    const text = await file(unfinished);
    expect(text).not.toContain("@");
    expect(text.split("\r\n")).toHaveLength(3);
  });
  it("hashes as FIPS 180-4 does: SHA-256 of abc", () => {
    expect(hashAddress("abc")).toBe("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
    expect(hashAddress("  ABC ")).toBe(hashAddress("abc"));
  });
  it("neutralises a cell that a spreadsheet would run", async () => {
    const em = world.app.fork();
    await em.execute("update contact set country = '=1' where email = ?", [emails.listed]);
    expect(await file()).toContain(",'=1");
    await em.execute("update contact set country = 'PT' where email = ?", [emails.listed]);
  });
});

describe("what an audience asks for", () => {
  it("is a value for the database, whatever it says", async () => {
    const hostile = { ...looked, condition: { did: "visited') or true or ('" as "visited" } };
    expect(await audienceByCountry(world.app.fork(), { launchId: context.launch.id, now: world.app.clock.now() }, hostile)).toEqual([]);
  });
});
