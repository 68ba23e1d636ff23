import { randomUUID } from "node:crypto";
import sharp from "sharp";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { countdownFigure, view, windowFor } from "../../src/core/launch";
import { fullMoment } from "../../src/core/words";
import { receiveNotice } from "../../src/server/platform/http/notices";
import { answerPage } from "../../src/server/site/answer";
import { keptLinkOf, type PublicAnswer } from "../../src/server/platform/http/publicRequest";
import { previewAddress } from "../../src/server/site/preview";
import { submitForm } from "../../src/server/site/submit";
import { applyOutsideNotice } from "../../src/server/launch/outsideNotices";
import { countdownJson, countdownPicture } from "../../src/server/launch/outsideCountdown";
import { summariseChange } from "../../src/server/launch/change";
import { runningClocks, viewerOf } from "../../src/server/launch/persons";
import { personLink } from "../../src/server/emails/personLink";
import { becomePerson } from "../../src/server/identity/identity";
import { clockStarts, type PersonStarts } from "../../src/store/launch/clockStarts";
import { Contact, EmailMessage, Order } from "../../src/store/tables";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { personalClock } from "../support/plans";
import { advance, buy, buyer, cardToken, openLaunch, setSettings, startWorld, until, withWorker, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const hours = (n: number) => n * 60;
const alwaysOn = (change: Parameters<typeof openLaunch>[1] = {}) =>
  openLaunch(world, { offer: false, ...change, request: { clock: "personal", personHours: 72, ...change.request } });

/** A browser: its cookies, and the pages it sees. */
const browser = (context: LaunchContext) => {
  const jar: { visitorId?: string; keptLink?: string } = {};
  const keep = (answer: PublicAnswer) => {
    for (const cookie of answer.cookies ?? []) {
      const [name, value] = cookie.split(";")[0]!.split("=");
      if (name === "ib_v") jar.visitorId = value;
      if (name === "ib_k") jar.keptLink = value || undefined;
    }
    return answer;
  };
  const get = async (path = "", query = "", passive = false): Promise<PublicAnswer> => {
    const answer = keep(await answerPage(world.app, { slug: context.launch.slug, path, query: new URLSearchParams(query), passive, ...jar }));
    const to = answer.headers["location"];
    if (answer.status !== 303 || !to?.startsWith(`/l/${context.launch.slug}`)) return answer;
    const next = new URL(to, "http://x");
    return get(next.pathname.split("/").slice(3).join("/"), next.search);
  };
  const post = async (action: string, values: Record<string, string>) => {
    jar.visitorId ??= randomUUID();
    return keep(
      await submitForm(world.app, {
        slug: context.launch.slug,
        action,
        values,
        from: jar.visitorId,
        visitorId: jar.visitorId,
        keptLink: jar.keptLink,
      }),
    );
  };
  return {
    jar,
    get,
    post,
    optIn: (email: string) => post("opt-in", { firstName: "Ada", email, consent: "yes", page: "optin", shownAt: "0" }),
    start: (email: string) => post("start", { firstName: "Ada", email, country: "PT" }),
    /** The instant the page counts down to, as the page says it. */
    counts: async (path = "") => Number(/data-until="(\d+)"/.exec((await get(path)).body)?.[1]) || undefined,
    headline: async (path = "") => /<h1>(.*?)<\/h1>/.exec((await get(path)).body)?.[1],
  };
};
const address = () => `ada.${randomUUID().slice(0, 8)}@wool.example`;
const linkOf = async (email: string) => personLink(world.app, (await world.app.fork().findOneOrFail(Contact, { email })).id);
const optInPage = "The Workshop, whenever you are ready.";
const salesPage = "The Workshop is open.";
const closedPage = "The doors are closed.";

describe("a clock for each person, started by the opt-in", () => {
  let context: LaunchContext;
  beforeAll(async () => void (context = await alwaysOn()));

  it("runs from the opt-in, and shows one instant on page, checkout, picture, other sites and in the email", async () => {
    const ada = browser(context);
    const email = address();
    expect(await ada.headline()).toBe(optInPage);
    expect(await ada.counts()).toBeUndefined();
    const began = world.app.clock.now().getTime();
    await ada.optIn(email);
    const ends = await ada.counts();
    expect(ends! - began - 72 * 3_600_000).toBeLessThan(5_000);
    expect(await ada.headline()).toBe(salesPage);
    const link = await linkOf(email);
    await withWorker(world, () => until(async () => (await world.inbox(email)).length > 0));
    for (const step of [hours(1), hours(47), hours(23), 59]) {
      expect(await ada.counts("checkout")).toBe(ends);
      expect(((await (await countdownJson(world.app, context.launch.slug, link)).json()) as { countdown: { until: number } }).countdown.until).toBe(
        ends,
      );
      const picture = await countdownPicture(world.app, context.launch.slug, link);
      expect(Date.parse(picture.headers.get("x-countdown-until")!)).toBe(ends);
      await advance(world, step);
    }
    const [received] = await world.inbox(email);
    expect(received!.text).toContain(fullMoment(new Date(ends!), "Europe/Lisbon"));
    expect(received!.raw).toContain(`/c/${context.launch.slug}.png`);
  });

  it("gains nothing by cleared cookies, another browser, a second opt-in or a second address", async () => {
    const ada = browser(context);
    const email = address();
    await ada.optIn(email);
    const ends = await ada.counts();
    await advance(world, hours(10));
    const cleared = browser(context);
    expect(await cleared.headline()).toBe(optInPage);
    await cleared.optIn(email);
    expect(await cleared.counts()).toBe(ends);
    await ada.optIn(address());
    expect(await ada.counts()).toBe(ends);
    const other = browser(context);
    await other.get("", `k=${await linkOf(email)}`);
    expect(await other.counts()).toBe(ends);
  });

  it("is shown to whoever holds a forwarded link, who cannot act as its owner", async () => {
    const [ada, bob] = [browser(context), browser(context)];
    const [hers, his] = [address(), address()];
    await ada.optIn(hers);
    const ends = await ada.counts();
    await advance(world, 60);
    await bob.get("", `k=${await linkOf(hers)}`);
    expect(await bob.counts()).toBe(ends);
    expect((await bob.get("checkout")).body).not.toContain(hers);
    expect((await bob.start(his)).status).toBe(303);
    expect(keptLinkOf(`ib_k=${bob.jar.keptLink ?? ""}`)).toBeUndefined();
    // Under the clock he was shown, and under his own name.
    expect(await bob.counts("checkout")).toBe(ends);
    const [row] = await world.app.fork().execute<{ email: string }[]>("select email from checkout where visitor_id = ?", [bob.jar.visitorId]);
    expect(row!.email).toBe(his);
    expect(await world.app.fork().count(Contact, { email: hers })).toBe(1);
  });

  it("that has run out is not started again by a friend's link", async () => {
    const [ada, bob] = [browser(context), browser(context)];
    const [hers, his] = [address(), address()];
    await bob.optIn(his);
    await advance(world, hours(73));
    expect(await bob.headline()).toBe(closedPage);
    await ada.optIn(hers);
    await bob.get("", `k=${await linkOf(hers)}`);
    expect(await bob.headline()).toBe(salesPage);
    const refused = await bob.start(his);
    expect(refused.status).toBe(409);
    expect(refused.body).toContain("Your time for this offer ended on");
    expect(await world.app.fork().execute("select 1 from checkout where visitor_id = ?", [bob.jar.visitorId!])).toEqual([]);
  });

  it("lets a checkout that was begun in time finish within the grace time, and takes nobody after it", async () => {
    const ada = browser(context);
    const email = address();
    await ada.optIn(email);
    await advance(world, hours(72) - 2);
    await ada.start(email);
    await advance(world, 6);
    expect(await ada.headline()).toBe(closedPage);
    expect((await ada.get("checkout")).body).toContain("To pay");
    await advance(world, 10);
    expect(await ada.headline("checkout")).toBe(closedPage);
    const [{ id }] = (await world.app.fork().execute<{ id: string }[]>("select id from checkout where visitor_id = ?", [ada.jar.visitorId])) as [
      { id: string },
    ];
    const paid = await ada.post("pay", {
      checkout: id,
      email,
      firstName: "Ada",
      country: "PT",
      cardToken: await cardToken(world),
      waiver: "yes" as const,
    });
    expect(paid.status).toBe(409);
    expect(await world.app.fork().count(Order, { checkoutId: id })).toBe(0);
  });

  it("cannot be begun by who never asked for it", async () => {
    const refused = await browser(context).start(address());
    expect(refused.status).toBe(409);
    expect(refused.body).toContain("opens for each person on their own");
  });
});

describe("two people who prove to be one while the doors are open to both", () => {
  it("have them open until the earlier of both ends", async () => {
    const context = await alwaysOn({
      settings: {
        clock: {
          kind: "personal",
          trigger: { on: "first_visit" },
          length: { kind: "exact", minutes: 3 * 1440 },
          rearm: { restMinutes: 2 * 1440, times: 1 },
        },
      },
    });
    const now = world.app.clock.now();
    const ago = (days: number) => new Date(now.getTime() - days * 86_400_000);
    const em = world.app.fork();
    const [one, two] = [randomUUID(), randomUUID()];
    for (const [person, starts] of [
      [one, [6, 1]],
      [two, [2]],
    ] as const) {
      await em.execute("insert into person (id, created_at) values (?, ?)", [person, ago(6)]);
      await em.execute("insert into visitor (id, person_id, first_seen_at) values (?, ?, ?)", [person, person, ago(6)]);
      for (const days of starts)
        await em.execute(
          "insert into clock_start (id, launch_id, person_id, visitor_id, at, trigger) values (gen_random_uuid(), ?, ?, ?, ?, 'first_visit')",
          [context.launch.id, person, person, ago(days)],
        );
    }
    await world.app.fork().transactional((tx) => becomePerson(tx, two, one, now));
    const all: PersonStarts[] = [];
    for await (const people of clockStarts(world.app.fork(), context.launch.id, now)) all.push(...people);
    const [merged] = all;
    // Who came two days ago has a day left, who came again a day ago would have two.
    expect(merged!.starts).toEqual([ago(2)]);
    expect(windowFor(context.plan, merged!, now)?.closes).toEqual(new Date(ago(2).getTime() + 3 * 86_400_000));
  });
});

describe("the clocks of a crowd", () => {
  it("are counted slice by slice: those that run, and those that a change of their length moves", async () => {
    const context = await alwaysOn();
    const now = world.app.clock.now();
    await world.app.fork().transactional(async (em) => {
      // Of 12,000 people a third started yesterday, a third a week ago; of the last third, who started today, half stopped again.
      await em.execute(
        "create temp table crowd on commit drop as select gen_random_uuid() as person, gen_random_uuid() as visitor, n from generate_series(1, 12000) as n",
      );
      await em.execute("insert into person (id, created_at) select person, ?::timestamptz from crowd", [now]);
      await em.execute("insert into visitor (id, person_id, first_seen_at) select visitor, person, ?::timestamptz from crowd", [now]);
      await em.execute(
        `insert into clock_start (id, launch_id, person_id, visitor_id, at, trigger)
       select gen_random_uuid(), ?, person, visitor, ?::timestamptz - case n % 3 when 0 then interval '1 day' when 1 then interval '7 days' else interval '1 hour' end, 'opt_in' from crowd`,
        [context.launch.id, now],
      );
      await em.execute(
        "insert into clock_stop (launch_id, person_id, at, because) select ?, person, ?::timestamptz, 'bought' from crowd where n % 6 = 2",
        [context.launch.id, now],
      );
      expect(await runningClocks(em, context.launch.id, context.plan, now)).toBe(6_000);
      const clock = { ...personalClock, length: { kind: "exact" as const, minutes: hours(8 * 24) } };
      const { countdowns, reopened } = await summariseChange(em, context, { ...context.launch.settings, clock }, now);
      expect(countdowns).toEqual([{ minutes: hours(5 * 24), people: 10_000 }]);
      expect(reopened).toBe(4_000);
    });
  });
});

describe("a clock for each person, started otherwise", () => {
  it("by the first visit, but not by a browser that only fetches ahead", async () => {
    const context = await alwaysOn({ request: { trigger: "first_visit" } });
    const ada = browser(context);
    await ada.get("", "", true);
    expect(await world.app.fork().execute("select 1 from clock_start where launch_id = ?", [context.launch.id])).toEqual([]);
    const ends = await ada.counts();
    expect(ends).toBeGreaterThan(world.app.clock.now().getTime() + 71 * 3_600_000);
    await advance(world, 60);
    expect(await ada.counts()).toBe(ends);
    // Two at once are one start.
    const twin = browser(context);
    await twin.get("closed", "", true);
    await Promise.all([twin.get(), twin.get(), twin.get("join")]);
    const [row] = await world.app.fork().execute<{ n: string }[]>("select count(*) as n from clock_start where visitor_id = ?", [twin.jar.visitorId]);
    expect(Number(row!.n)).toBe(1);
  });
  it("of two browsers that prove to be one person: the earlier start holds", async () => {
    const context = await alwaysOn({ request: { trigger: "first_visit" } });
    const [phone, desk] = [browser(context), browser(context)];
    const early = await phone.counts();
    await advance(world, hours(5));
    const late = await desk.counts();
    expect(late).toBeGreaterThan(early!);
    const email = address();
    await desk.optIn(email);
    await phone.optIn(email);
    expect([await phone.counts(), await desk.counts()]).toEqual([early, early]);
  });
  it("by a visit to a chosen page, and stopped by a visit to another", async () => {
    const context = await alwaysOn({
      settings: {
        clock: { kind: "personal", trigger: { on: "page", page: "episodes/1" }, length: { kind: "exact", minutes: 600 }, rearm: null },
        gates: [],
        stops: [{ id: "s", on: "page", page: "episodes/3", handTo: null }],
        episodes: [],
      },
    });
    const ada = browser(context);
    await ada.get("episodes/2");
    expect(await ada.headline()).toBe(optInPage);
    await ada.get("episodes/1");
    expect(await ada.counts()).toBeDefined();
    await ada.get("episodes/3");
    expect(await ada.counts()).toBeUndefined();
    expect(await ada.headline()).toBe(salesPage);
  });
  it("by a signed notice of another tool, once however often it comes, and by no other", async () => {
    const context = await alwaysOn({ request: { trigger: "webhook" } });
    const email = address();
    const send = (id: string, secret = context.launch.hookSecret) => {
      const body = JSON.stringify({ type: "clock.start", data: { email: ` ${email.toUpperCase()}`, first_name: "Ada" } });
      const at = new Date();
      const headers = new Headers({
        "webhook-id": id,
        "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
        "webhook-signature": new Webhook(secret).sign(id, at, body),
      });
      return receiveNotice(world.app, `launch:${context.launch.id}`, context.launch.hookSecret, headers, body, applyOutsideNotice(context.launch.id));
    };
    await expect(send("msg_0", `whsec_${Buffer.from("another secret of 24 b..").toString("base64")}`)).rejects.toMatchObject({ status: 401 });
    expect(await send("msg_1")).toEqual({ outcome: "started", repeated: false });
    expect(await send("msg_1")).toEqual({ outcome: "started", repeated: true });
    expect((await send("msg_2")).outcome).toBe("runs already, or may not start again");
    const contact = await world.app.fork().findOneOrFail(Contact, { email });
    expect(contact.consentAt).toBeNull();
    const ada = browser(context);
    await ada.get("", `k=${await linkOf(email)}`);
    expect(await ada.counts()).toBeDefined();
  });
  it("again after its rest, and no more often than it may", async () => {
    const context = await alwaysOn({
      settings: {
        clock: {
          kind: "personal",
          trigger: { on: "opt_in", page: null },
          length: { kind: "exact", minutes: 60 },
          rearm: { restMinutes: 120, times: 1 },
        },
      },
    });
    const [ada, email] = [browser(context), address()];
    const seen: boolean[] = [];
    for (const wait of [0, 90, 100, 300]) {
      await advance(world, wait);
      await ada.optIn(email);
      seen.push((await ada.counts()) !== undefined);
    }
    expect(seen).toEqual([true, false, true, false]);
  });
});

describe("whoever buys", () => {
  it("is not hurried any more, and gets no email about the close", async () => {
    const context = await alwaysOn();
    const ada = browser(context);
    const email = address();
    await ada.optIn(email);
    expect(await ada.counts()).toBeDefined();
    await buy(world, context, { visitorId: ada.jar.visitorId!, from: "1.1.1.1" }, { email, firstName: "Ada", country: "PT" });
    expect(await ada.counts()).toBeUndefined();
    await withWorker(world, async () => {
      await advance(world, hours(71) + 30);
      await until(async () => (await world.app.fork().count(EmailMessage, { launchId: context.launch.id, kind: "bell", state: "due" })) === 0);
    });
    expect((await world.inbox(email)).map(({ subject }) => subject)).not.toContain(`${context.launch.name} closes in a day`);
  });
  it("is handed to another launch, whose clock starts then", async () => {
    const next = await alwaysOn();
    const context = await alwaysOn({ settings: { stops: [{ id: "s", on: "purchase", product: null, handTo: next.launch.id }] } });
    const ada = browser(context);
    const email = address();
    await ada.optIn(email);
    await buy(world, context, { visitorId: ada.jar.visitorId!, from: "1.1.1.2" }, { email, firstName: "Ada", country: "PT" });
    expect((await ada.get()).headers["location"]).toBe(`/l/${next.launch.slug}`);
    const there = browser(next);
    Object.assign(there.jar, ada.jar);
    expect(await there.counts()).toBeGreaterThan(world.app.clock.now().getTime() + 71 * 3_600_000);
  });
});

describe("emails on a person's own clock", () => {
  it("go at their distance from that person's end, once, and follow where the clock is set anew", async () => {
    const context = await alwaysOn();
    const [ada, email] = [browser(context), address()];
    await ada.optIn(email);
    const subjects = async () => (await world.inbox(email)).map(({ subject }) => subject);
    const lastDay = `${context.launch.name} closes in a day`;
    await withWorker(world, async () => {
      await advance(world, hours(47));
      await setSettings(world, context, {
        clock: { ...(context.launch.settings.clock as { kind: "personal" }), length: { kind: "exact", minutes: 96 * 60 } } as never,
      });
      await advance(world, 90);
      await new Promise((done) => setTimeout(done, 2_500));
      expect(await subjects()).not.toContain(lastDay);
      await advance(world, hours(24));
      await until(async () => (await subjects()).includes(lastDay));
      await advance(world, 5);
      await new Promise((done) => setTimeout(done, 1_500));
    });
    expect((await subjects()).filter((subject) => subject === lastDay)).toHaveLength(1);
  });
});

describe("a countdown for other places", () => {
  it("is a picture of the minutes that are left, kept no longer than it is true", async () => {
    const context = await openLaunch(world, { closesIn: 30 });
    const answer = await countdownPicture(world.app, context.launch.slug, null);
    const picture = sharp(Buffer.from(await answer.arrayBuffer()));
    expect(await picture.metadata()).toMatchObject({ format: "png", width: 960, height: 240 });
    const [, age] = /^public, max-age=(\d+), must-revalidate$/.exec(answer.headers.get("cache-control")!)!;
    expect(Number(age)).toBeLessThanOrEqual(60);
    const { dominant } = await picture.stats();
    expect(dominant.r).toBeLessThan(60);
    // In the last day it wears its urgent look.
    await advance(world, hours(10));
    const urgent = await sharp(Buffer.from(await (await countdownPicture(world.app, context.launch.slug, null)).arrayBuffer())).stats();
    expect(urgent.dominant.r).toBeGreaterThan(130);
  });
  it("of a person is kept by nobody else, and a forged link shows nobody's", async () => {
    const context = await alwaysOn();
    const [ada, email] = [browser(context), address()];
    await ada.optIn(email);
    const link = await linkOf(email);
    expect((await countdownPicture(world.app, context.launch.slug, link)).headers.get("cache-control")).toMatch(/^private/);
    for (const forged of [null, "x.y.z", `${link}x`])
      expect((await countdownPicture(world.app, context.launch.slug, forged)).headers.get("x-countdown-until")).toBeNull();
    const json = await countdownJson(world.app, context.launch.slug, link);
    expect(json.headers.get("cache-control")).toBe("no-store");
    expect(json.headers.get("access-control-allow-origin")).toBe("*");
    const draft = await openLaunch(world, { publish: false });
    for (const slug of ["none", draft.launch.slug]) {
      expect((await countdownJson(world.app, slug, null)).status).toBe(404);
      expect((await countdownPicture(world.app, slug, null)).status).toBe(404);
    }
  });
});

describe("a preview", () => {
  it("shows what the public address will show that person, and leaves nothing behind", async () => {
    const context = await alwaysOn({ request: { trigger: "first_visit" }, settings: { seats: 9 } });
    const [ada, email] = [browser(context), address()];
    await ada.get();
    await ada.optIn(email);
    const contact = await world.app.fork().findOneOrFail(Contact, { email });
    const counts = async () => {
      const tables = ["person", "visitor", "contact", "event", "clock_start", "clock_stop", "checkout", "email_message", "outbox"];
      return Promise.all(tables.map(async (table) => (await world.app.fork().execute<{ n: string }[]>(`select count(*) as n from ${table}`))[0]!.n));
    };
    await world.app.events.flush();
    const before = await counts();
    const at = new Date(world.app.clock.now().getTime() + hours(60) * 60_000);
    const { body: page } = (await previewAddress(world.app, world.app.fork(), context.launch.slug, "join", { kind: "person", id: contact.id }, at))!;
    await previewAddress(world.app, world.app.fork(), context.launch.slug, "", { kind: "new" }, at);
    await previewAddress(world.app, world.app.fork(), context.launch.slug, "thank-you", { kind: "everyone" }, at);
    await world.app.events.flush();
    expect(await counts()).toEqual(before);
    expect(page).not.toMatch(/<script/);
    const who = await viewerOf(world.app.fork(), context, { contactId: contact.id });
    const seen = view(context.plan, who, at, { sold: 0 });
    expect(page).toContain(`>${countdownFigure(seen.countdown!.until.getTime() - at.getTime())}<`);
    expect(page).toContain("Last day");
    expect(page).toContain("9 of 9 seats left");
  });
});

describe("seats and a rising price", () => {
  it("are never sold beyond the last seat, however many press at once", async () => {
    const context = await openLaunch(world, { offer: false, settings: { seats: 5 } });
    const outcomes = await Promise.allSettled(Array.from({ length: 16 }, () => buy(world, context)));
    expect(outcomes.filter(({ status }) => status === "fulfilled")).toHaveLength(5);
    for (const outcome of outcomes)
      if (outcome.status === "rejected") expect(["seats_taken", "sold_out"]).toContain((outcome.reason as { code: string }).code);
    expect(await world.app.fork().count(Order, { launchId: context.launch.id })).toBe(5);
    expect((await browser(context).get("join")).body).toContain("All 5 seats are taken");
  });
  it("are what the page says: the price that was shown is held for a while, and then the one that is charged, or none", async () => {
    const context = await openLaunch(world, { offer: false, settings: { rising: { every: 1, stepMinor: 1_000, capMinor: 16_900 } } });
    const [ada, bob] = [browser(context), browser(context)];
    expect((await ada.get("join")).body).toContain("The price rises to €159.00 in 1 sale");
    const who = buyer();
    await bob.start(who.email);
    const form = (await bob.get("checkout")).body;
    const value = (name: string) => new RegExp(`name="${name}" value="([^"]*)"`).exec(form)![1]!;
    expect(value("shown")).toBe("14900");
    await buy(world, context);
    const pay = async () =>
      bob.post("pay", {
        checkout: value("checkout"),
        email: who.email,
        firstName: "Ada",
        country: "PT",
        shown: value("shown"),
        cardToken: await cardToken(world),
        waiver: "yes" as const,
      });
    // Held for its buyer, the price does not rise with others' purchases; when that time is over, it has.
    expect((await bob.get("checkout")).body).toContain("This price is held for you until");
    expect((await bob.get("checkout")).body).toContain("€149.00");
    await advance(world, 16);
    const refused = await pay();
    expect(refused.status).toBe(409);
    expect(refused.body).toContain("The price has changed");
    expect(refused.body).toContain("€159.00");
  });
});
