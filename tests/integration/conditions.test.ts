import { randomUUID } from "node:crypto";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { emailRef, isPattern, matches, type Condition, type ConditionScope, type History } from "../../src/core/conditions";
import { peopleAtStage } from "../../src/core/figures";
import { devices, type EventFact } from "../../src/core/events";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { writeEvents } from "../../src/store/events/writeEvents";
import { becomePerson } from "../../src/server/identity/identity";
import { recordTouch } from "../../src/server/partners/touch";
import { countPeopleWho, peopleWho } from "../../src/store/people/find/peopleWho";
import { Product } from "../../src/store/tables";
import { anyCondition, closings } from "../support/conditions";
import { addPartner, buy, buyer, clickBy, openLaunch, startWorld, visitor, type World } from "../support/world";

let world: World;
let contexts: LaunchContext[];
beforeAll(async () => {
  world = await startWorld();
  contexts = [await openLaunch(world), await openLaunch(world)];
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const [pages, sources, countries] = [
  ["sales", "optin", "episodes/1", "episodes/12"],
  ["guild", "guild-fair", "search"],
  ["PT", "DE", "FR"],
];
const [products, steps, tags] = [
  [randomUUID(), randomUUID()],
  [randomUUID(), randomUUID()],
  ["vip", "asked"],
];
// Keys with what a pattern of the database would read as more.
const emailKeys = ["doors-open", "doors_open", "welcome"];
const links = ["page sales", "next step"];
const order = randomUUID();
const questions = ["Needles", "Yarn"];
const answers = ["5 mm", "steel, 5 mm", "wool"];

const fact: fc.Arbitrary<EventFact> = fc
  .record({
    kind: fc.constantFrom("visited", "saw_sales", "opted_in", "began_checkout", "paid", "offer_accepted", "offer_declined", "commented"),
    device: fc.constantFrom(undefined, ...devices),
    source: fc.constantFrom(undefined, ...sources),
    product: fc.constantFrom(...products),
    step: fc.constantFrom(...steps),
  })
  .map(({ kind, device, source, product, step }): EventFact => {
    const money = { amountMinor: 100, currency: "EUR", products: [product], order };
    if (kind === "visited" || kind === "saw_sales")
      return { kind, data: { variant: "A", ...(device ? { device } : {}), ...(source ? { source } : {}) } };
    if (kind === "opted_in") return { kind, data: { form: "f" } };
    if (kind === "began_checkout") return { kind, data: { checkout: order, product } };
    if (kind === "paid") return { kind, data: money };
    if (kind === "offer_accepted") return { kind, data: { ...money, step } };
    return kind === "offer_declined" ? { kind, data: { order, product, step } } : { kind: "commented", data: {} };
  });
const deed = fc.record({
  fact,
  launch: fc.constantFrom(0, 1),
  page: fc.constantFrom(...pages),
  hoursAgo: fc.integer({ min: 0, max: 24 * 45 }),
  country: fc.constantFrom(undefined, ...countries),
});
const contact = fc.record({
  answers: fc.dictionary(fc.constantFrom(...questions), fc.constantFrom(...answers)),
  consentAgo: fc.option(fc.integer({ min: 0, max: 40 })),
  unsubscribedAgo: fc.option(fc.integer({ min: 0, max: 20 })),
  suppressedAgo: fc.option(fc.integer({ min: 0, max: 20 })),
});
const daysBack = fc.option(fc.integer({ min: 0, max: 40 }), { nil: undefined });
const mail = fc.record({
  launch: fc.constantFrom(0, 1),
  key: fc.constantFrom(...emailKeys),
  sent: daysBack,
  opened: daysBack,
  left: daysBack,
  bounced: daysBack,
  complained: daysBack,
  closing: fc.option(fc.constantFrom(...closings), { nil: undefined }),
  clicks: fc.array(fc.record({ link: fc.constantFrom(...links), ago: fc.integer({ min: 0, max: 40 }), person: fc.boolean() }), { maxLength: 3 }),
});
const life = fc.record({
  emails: fc.uniqueArray(mail, { maxLength: 3, selector: ({ launch, key }) => `${launch} ${key}` }),
  deeds: fc.array(deed, { maxLength: 9 }),
  tags: fc.subarray(tags),
  merged: fc.boolean(),
  contact: fc.option(contact),
});
type Life = typeof life extends fc.Arbitrary<infer T> ? T : never;

/** Clicks of programs are no clicks of somebody's. */
const countedClicks = <T extends { clicks: { link: string; at: Date; person: boolean }[] }>(email: T) => ({
  ...email,
  clicks: email.clicks.filter(({ person }) => person).map(({ link, at }) => ({ link, at, countsAt: at })),
});

/** Lets somebody live, in two browsers that turn out to be one person's, and answers what the core should know of them. */
const live = async ({ deeds, tags: own, merged, contact: gave, emails: mails }: Life, now: Date): Promise<[string, History]> => {
  const [first, second] = [randomUUID(), randomUUID()];
  const did = deeds.map(({ fact: one, launch, page, hoursAgo, country }, n) => ({
    ...one,
    country,
    page,
    launchId: contexts[launch]!.launch.id,
    at: new Date(now.getTime() - hoursAgo * 3_600_000 - n),
    visitorId: merged && n % 2 === 1 ? second : first,
  }));
  await em().transactional(async (tx) => {
    await tx.execute("insert into person (id, created_at) values (?, ?)", [first, now]);
    await tx.execute("insert into visitor (id, person_id, first_seen_at) values (?, ?, ?)", [first, first, now]);
    await writeEvents(tx, did);
    for (const tag of own) await tx.execute("insert into person_tag (person_id, tag, at) values (?, ?, ?)", [first, tag, now]);
    if (did.some(({ visitorId }) => visitorId === second)) await becomePerson(tx, second, first, now);
  });
  const daysAgo = (days: number | null | undefined) => (days === null || days === undefined ? null : new Date(now.getTime() - days * 86_400_000));
  const [consentAt, unsubscribedAt, suppressedAt] = [daysAgo(gave?.consentAgo), daysAgo(gave?.unsubscribedAgo), daysAgo(gave?.suppressedAgo)];
  if (gave)
    await em().execute(
      "insert into contact (id, person_id, email, first_name, answers, consent_at, unsubscribed_at, suppressed_at, suppressed_because, created_at) values (?, ?, ?, 'Runa', ?::jsonb, ?, ?, ?, ?, ?)",
      [
        first,
        first,
        `${first}@post.example`,
        JSON.stringify(gave.answers),
        consentAt,
        unsubscribedAt,
        suppressedAt,
        suppressedAt ? "bounced" : null,
        now,
      ],
    );
  const emails = gave
    ? mails.map(({ launch, key, clicks, closing, ...instants }, n) => ({
        id: randomUUID(),
        launchId: contexts[launch]!.launch.id,
        key,
        ...(Object.fromEntries(Object.entries(instants).flatMap(([deed, days]) => (days === undefined ? [] : [[deed, daysAgo(days)!]]))) as Partial<
          Record<keyof typeof instants, Date>
        >),
        // No two went at the same instant: it is known which was the last.
        ...(instants.sent === undefined ? {} : { sent: new Date(daysAgo(instants.sent)!.getTime() - n) }),
        ...(closing ? { statedClosing: new Date(closing) } : {}),
        clicks: clicks.map(({ link, ago, person }) => ({ link, at: daysAgo(ago)!, person })),
      }))
    : [];
  for (const { id, launchId, key, clicks, ...is } of emails) {
    const kind = key === "welcome" ? "welcome" : "bell";
    await em().execute(
      `insert into email_message (id, key, kind, launch_id, contact_id, due_at, data, state, sent_at, opened_at, left_at, bounced_at, bounce, complained_at, stated_closing)
       values (?, ?, ?, ?, ?, ?, '{}', ?, ?, ?, ?, ?, ?, ?, ?)`,
      [id, kind === "bell" ? `bell:${launchId}:${key}:${first}` : `welcome:${id}`, kind, launchId, first, now, is.sent ? "sent" : "due", is.sent ?? null, is.opened ?? null, is.left ?? null, is.bounced ?? null, is.bounced ? "hard" : null, is.complained ?? null, is.statedClosing ?? null], // prettier-ignore
    );
    for (const { link, at, person } of clicks)
      await em().execute("insert into email_click (id, email_id, link, at, counts_at, machine) values (?, ?, ?, ?, ?, ?)", [randomUUID(), id, link, at, at, !person]); // prettier-ignore
  }
  const known = gave && {
    answers: gave.answers,
    ...(consentAt ? { consentAt } : {}),
    ...(unsubscribedAt ? { unsubscribedAt } : {}),
    ...(suppressedAt ? { suppressedAt } : {}),
  };
  const stages = new Set(["visited", "saw_sales", "opted_in", "began_checkout", "paid"]);
  const launches = contexts.flatMap(({ launch }) => {
    const here = did.filter(({ launchId, kind }) => launchId === launch.id && stages.has(kind)).sort((a, b) => a.at.getTime() - b.at.getTime());
    if (here.length === 0) return [];
    const known = <T>(of: (one: (typeof here)[number]) => T | undefined) => here.map(of).find((value) => value !== undefined);
    return [
      {
        launchId: launch.id,
        country: known(({ country }) => country),
        source: known(({ data }) => ("source" in data ? data.source : undefined)),
        device: known(({ data }) => ("device" in data ? data.device : undefined)),
      },
    ];
  });
  return [first, { launches, events: did, orders: [], tags: own, emails: emails.map(countedClicks), ...(known ? { contact: known } : {}) }];
};

describe("a condition as SQL", () => {
  it("finds the very people whom the core finds, for any condition and any people", async () => {
    const partner = await addPartner(world, "conditions");
    const now = world.app.clock.now();
    const people = new Map<string, History>();
    for (const one of fc.sample(life, 60)) people.set(...(await live(one, now)));
    // Two who came through a partner and bought, so that money and credit are asked for as well.
    for (const context of contexts) {
      const who = visitor();
      await recordTouch(em(), context.launch.id, clickBy("conditions"), who.visitorId, now);
      const { order: bought } = await buy(world, context, who, buyer("PT"));
      const { id, personId, placedAt } = bought!;
      const [main] = await em().find(Product, { id: context.launch.mainProductId });
      const by = { launchId: context.launch.id, page: "checkout", at: placedAt };
      people.set(personId, {
        launches: [{ launchId: context.launch.id, country: "PT", partnerId: partner.id }],
        events: [
          { ...by, kind: "began_checkout", data: { checkout: bought!.checkoutId!, product: main!.id } },
          { ...by, kind: "paid", data: { order: id, amountMinor: 14_900, currency: "EUR", products: [main!.id] } },
        ],
        orders: [{ launchId: context.launch.id, minor: 14_900, currency: "EUR", at: placedAt }],
        tags: [],
      });
    }
    const some = anyCondition({
      pages: [...pages, "epi"],
      sources,
      countries,
      products,
      steps,
      partners: [partner.id, randomUUID()],
      tags,
      launches: contexts.map(({ launch }) => launch.id),
      questions,
      answers,
      emails: contexts.flatMap(({ launch }) => emailKeys.map((key) => emailRef(launch.id, key))),
      links,
    });
    const later = new Date(world.app.clock.now().getTime() + 5_000);
    let [found, empty] = [0, 0];
    const check = async (asked: Condition, scope: ConditionScope) => {
      const expected = [...people].filter(([, history]) => matches(asked, history, scope)).map(([id]) => id);
      const everybody =
        scope.launchId === undefined
          ? expected
          : expected.filter((id) => people.get(id)!.launches.some(({ launchId }) => launchId === scope.launchId));
      const rows = (await peopleWho(em(), asked, scope, { most: 1_000 })).filter((id) => people.has(id));
      expect(rows).toEqual(everybody.sort());
      if (rows.length > 0) found += 1;
      else empty += 1;
    };
    await fc.assert(
      // As things are now, and as they were at some instant.
      fc.asyncProperty(some, fc.constantFrom(undefined, 0, 1), fc.option(fc.integer({ min: 0, max: 30 * 24 * 60 })), (asked, launch, minutesAgo) =>
        check(asked, {
          now: minutesAgo === null ? later : new Date(now.getTime() - minutesAgo * 60_000),
          past: minutesAgo !== null,
          launchId: launch === undefined ? undefined : contexts[launch]!.launch.id,
        }),
      ),
      { numRuns: 250 },
    );
    expect(Math.min(found, empty)).toBeGreaterThan(20);
    for (const asked of [peopleAtStage("visited"), { any: [peopleAtStage("visited"), { tag: "vip" }] }, { none: [peopleAtStage("visited")] }])
      for (const launchId of [undefined, contexts[0]!.launch.id]) await check(asked, { now: later, launchId });
    // The instant before the two bought: they had not spent anything yet.
    await check({ none: [{ spent: { minor: 1, currency: "EUR" } }] }, { now, past: true, launchId: undefined });
  });

  it("counts and pages through those whom it finds", async () => {
    const scope = { now: new Date(world.app.clock.now().getTime() + 5_000), launchId: contexts[0]!.launch.id };
    const asked: Condition = { any: [{ did: "visited" }, { did: "saw_sales" }, { did: "paid" }] };
    const all = await peopleWho(em(), asked, scope, { most: 1_000 });
    expect(all.length).toBeGreaterThan(10);
    expect(await countPeopleWho(em(), asked, scope)).toBe(all.length);
    const pagesOf: string[] = [];
    for (let after: string | undefined; ; after = pagesOf.at(-1)) {
      const rows = await peopleWho(em(), asked, scope, { ...(after === undefined ? {} : { after }), most: 7 });
      if (rows.length === 0) break;
      pagesOf.push(...rows);
    }
    expect(pagesOf).toEqual(all);
  });

  it("reads a pattern as the core reads it", async () => {
    const piece = fc.constantFrom("a", "b", "/", "1", ".", "[ab]", "[^a]", "[0-9]+", "(a|b1)", "(ab)*", "a{1,2}", "b?", "-");
    const pattern = fc
      .tuple(fc.boolean(), fc.array(piece, { minLength: 1, maxLength: 5 }), fc.boolean())
      .map(([start, parts, end]) => `${start ? "^" : ""}${parts.join("")}${end ? "$" : ""}`);
    const text = fc.array(fc.constantFrom("a", "b", "/", "1", "2", "-"), { maxLength: 6 }).map((parts) => parts.join(""));
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(pattern, text), { minLength: 40, maxLength: 40 }), async (pairs) => {
        const usable = pairs.filter(([one]) => isPattern(one));
        expect(usable).toHaveLength(pairs.length);
        const rows = await em().execute<{ yes: boolean }[]>(
          "select b.text ~ b.pattern as yes from jsonb_to_recordset(?::jsonb) as b(n int, pattern text, text text) order by n",
          [JSON.stringify(usable.map(([one, of], n) => ({ n, pattern: one, text: of })))],
        );
        expect(rows.map(({ yes }) => yes)).toEqual(usable.map(([one, of]) => new RegExp(one, "u").test(of)));
      }),
      { numRuns: 15 },
    );
  });
});
