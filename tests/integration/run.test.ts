import { randomUUID } from "node:crypto";
import ICAL from "ical.js";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { readEvent } from "../../src/core/events";
import type { EpisodeSetting } from "../../src/core/launch";
import { builder, idsFrom, pageOf } from "../../src/core/pages";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { calendarFile, decideComment, joinSession, recordWatched } from "../../src/server/site/run";
import { confirmAddress, submitForm } from "../../src/server/site/submit";
import { optIn } from "../../src/server/people/optIn";
import { EmailMessage, OptIn } from "../../src/store/tables";
import { filmFigures } from "../../src/store/pages/filmFigures";
import { launchComments } from "../../src/store/pages/launchComments";
import { wallTimeOf } from "../../src/core/launch";
import { advance, look, openLaunch, publishAs, sentBy, setSettings, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const b = builder(idsFrom("b"));
const episode = (n: number, unlock: EpisodeSetting["unlock"], live: EpisodeSetting["live"] = null): EpisodeSetting => ({
  id: `e${n}`,
  page: `episodes/${n}`,
  unlock,
  live,
});
const page = (n: number) =>
  pageOf([
    b.section([
      b.title(`Episode number ${n}`),
      b.made("episodes", { id: "list" }),
      b.made("video", { id: "film", url: "https://films.example/a.mp4", label: "F" }),
      b.made("comments", { id: "talk", scope: n === 3 ? "page" : "run" }),
      b.button("On"),
    ]),
  ]);

/** A launch in its run-up: the first episode is open, the second opens in an hour, the third a day after an opt-in. */
const running = async (episodes?: EpisodeSetting[]): Promise<LaunchContext> => {
  const context = await openLaunch(world, {
    opensIn: 24,
    closesIn: 72,
    offer: false,
    settings: {
      episodes: episodes ?? [
        episode(1, { on: "start" }),
        episode(2, { on: "bell", bell: "opening", minutes: -23 * 60 }),
        episode(3, { on: "opt_in", days: 1, time: null }),
      ],
    },
  });
  for (const n of [1, 2]) await publishAs(world, context, `episodes/${n}`, page(n));
  return publishAs(world, context, "episodes/3", page(3));
};
const say = (context: LaunchContext, visitorId: string, values: Record<string, string>) =>
  submitForm(world.app, {
    slug: context.launch.slug,
    action: "comment",
    visitorId,
    from: visitorId,
    values: { page: "episodes/1", block: "talk", shownAt: String(now().getTime() - 5_000), name: "Maren", body: "Well said.", ...values },
  });

describe("a run of episodes", () => {
  it("sends no locked page, says when it opens, and sends it from that moment", async () => {
    const context = await running();
    const before = await look(world, context, "episodes/2");
    expect(before.body).toContain("Episode number 1</h1>");
    expect(before.body).not.toContain("Episode number 2</h1>");
    expect(before.body).toMatch(/“Episode number 2” opens \w+day \d+ \w+ \d{4} at \d\d:\d\d, Lisbon time/);
    expect(before.body).toMatch(/class="shut" data-opens="\d+" data-href="[^"]*episodes\/2"/);
    await advance(world, 61);
    const after = await look(world, context, "episodes/2");
    expect(after.body).toContain("Episode number 2</h1>");
    expect(after.body).toMatch(/aria-current="page"[\s\S]*Episode number 2[\s\S]*playing/);
  });
  it("opens days after an opt-in for that person, on any device of theirs, and for nobody else", async () => {
    const context = await running();
    const [mine, other] = [randomUUID(), randomUUID()];
    expect((await look(world, context, "episodes/3", mine)).body).toContain("opens for those on the list");
    await optIn(em(), context, { email: "run@wool.example", firstName: "R", answers: {} }, sentBy(mine, now()));
    expect((await look(world, context, "episodes/3", mine)).body).not.toContain("Episode number 3</h1>");
    await advance(world, 1441);
    expect((await look(world, context, "episodes/3", mine)).body).toContain("Episode number 3</h1>");
    expect((await look(world, context, "episodes/3", other)).body).not.toContain("Episode number 3</h1>");
  });
});

describe("what is watched of a film", () => {
  it("is counted by quarters, each once, however often and in whatever order it is told", async () => {
    const context = await running();
    const [slug, visitor] = [context.launch.slug, randomUUID()];
    const tell = (quarters: number, film = "episodes/1 film", who = visitor) =>
      recordWatched(world.app, slug, { film, quarters: String(quarters) }, who);
    expect(await tell(2)).toBe(true);
    expect(await tell(1)).toBe(true);
    await Promise.all([tell(4), tell(4), tell(3)]);
    await tell(1, "episodes/1 film", randomUUID());
    const events = await em().execute<{ kind: string; data: { quarters: number } }[]>(
      "select kind, data from event where launch_id = ? and person_id = ? order by data->>'quarters'",
      [context.launch.id, visitor],
    );
    expect(events.map(({ kind, data }) => readEvent(kind, data))).toEqual(
      [1, 2, 3, 4].map((quarters) => ({ kind: "watched", data: { film: "film", quarters } })),
    );
    expect(await filmFigures(em(), { launchId: context.launch.id, now: now() })).toEqual([
      { page: "episodes/1", film: "film", reached: [2, 1, 1, 1] },
    ]);
  });
  it("is believed only of films that are there", async () => {
    const context = await running();
    for (const [film, quarters] of [
      ["episodes/1 talk", "1"],
      ["nowhere film", "1"],
      ["episodes/1 film", "5"],
      ["film", "1"],
    ])
      expect(await recordWatched(world.app, context.launch.slug, { film: film!, quarters: quarters! }, randomUUID())).toBe(false);
    expect(await filmFigures(em(), { launchId: context.launch.id, now: now() })).toEqual([]);
  });
});

describe("a comment", () => {
  it("is shown to all once it has been read, on the pages of the run, with the vendor's answer", async () => {
    const context = await running();
    const sent = await say(context, randomUUID(), { body: "Which <b>wool</b>?" });
    expect(sent.headers["location"]).toMatch(/\?said=talk#talk-talk$/);
    expect((await look(world, context, "episodes/1")).body).not.toContain("wool");
    const [waiting] = await launchComments(em(), context.launch.id);
    expect(waiting).toMatchObject({ state: "waiting", name: "Maren" });
    await decideComment(em(), world.owner, context.launch.id, { id: waiting!.id, state: "shown", reply: "A five-ply." }, now());
    await advance(world, 61);
    for (const path of ["episodes/1", "episodes/2"]) {
      const { body } = await look(world, context, path);
      expect(body).toContain("Which &lt;b&gt;wool&lt;/b&gt;?");
      expect(body).toContain("A five-ply.");
    }
    await decideComment(em(), world.owner, context.launch.id, { id: waiting!.id, state: "hidden" }, now());
    expect((await look(world, context, "episodes/1")).body).not.toContain("five-ply");
  });
  it("stands once when it is sent twice, not at all when a program sends it, and keeps what was typed when something is missing", async () => {
    const context = await running();
    const visitor = randomUUID();
    await Promise.all([say(context, visitor, {}), say(context, visitor, {})]);
    await say(context, visitor, {});
    await say(context, randomUUID(), { website: "x", body: "Spam" });
    await say(context, randomUUID(), { shownAt: String(now().getTime()), body: "Too fast" });
    expect((await launchComments(em(), context.launch.id)).map(({ body }) => body)).toEqual(["Well said."]);
    const wrong = await say(context, visitor, { name: "", body: "Kept words" });
    expect(wrong.status).toBe(422);
    expect(wrong.body).toContain("Kept words</textarea>");
    expect(wrong.body).toContain("Under which name?");
  });
  it("is decided only by who may write, and only in its own launch", async () => {
    const context = await running();
    await say(context, randomUUID(), {});
    const [one] = await launchComments(em(), context.launch.id);
    const viewer = { ...world.owner, role: "viewer" as const };
    await expect(decideComment(em(), viewer, context.launch.id, { id: one!.id, state: "shown" }, now())).rejects.toMatchObject({ status: 403 });
    await expect(decideComment(em(), world.owner, randomUUID(), { id: one!.id, state: "shown" }, now())).rejects.toMatchObject({ status: 404 });
  });
});

describe("a live session", () => {
  const url = "https://meet.example/room-7";
  const withSession = async (double: "never" | "always" = "never") => {
    const starts = wallTimeOf(new Date(now().getTime() + 2 * 3_600_000), "Europe/Lisbon");
    const first = await running([episode(1, { on: "start" }, { starts, lengthMinutes: 60, earlyMinutes: 15, url, replay: "opening" })]);
    return publishAs(
      world,
      first,
      "episodes/1",
      pageOf([b.section([b.title("Live"), b.made("live", { id: "live", double, heading: "An hour", url: "https://films.example/again.mp4" })])]),
    );
  };
  const register = (context: LaunchContext, visitorId: string) =>
    submitForm(world.app, {
      slug: context.launch.slug,
      action: "opt-in",
      visitorId,
      from: visitorId,
      values: {
        page: "episodes/1",
        block: "live",
        consent: "yes",
        firstName: "L",
        email: `l.${visitorId}@wool.example`,
        shownAt: String(now().getTime() - 5_000),
      },
    });

  it("lets in who has a place while it is open, tells its link to nobody before, and shows the recording until its bell", async () => {
    const context = await withSession();
    const [guest, stranger] = [randomUUID(), randomUUID()];
    const { slug } = context.launch;
    await register(context, guest);
    const before = await look(world, context, "episodes/1", guest);
    expect(before.body).toContain("You have a place.");
    expect(before.body).not.toContain(url);
    expect(await joinSession(world.app, slug, "episodes/1", { visitorId: guest })).toBe(`/l/${slug}/episodes/1`);
    await advance(world, 106);
    expect((await look(world, context, "episodes/1", guest)).body).toContain(`href="/l/${slug}/live/episodes/1"`);
    expect((await look(world, context, "episodes/1", stranger)).body).toContain("Keep me a place");
    expect(await joinSession(world.app, slug, "episodes/1", { visitorId: guest })).toBe(url);
    expect(await joinSession(world.app, slug, "episodes/1", { visitorId: stranger })).toBe(`/l/${slug}/episodes/1`);
    await advance(world, 75);
    expect((await look(world, context, "episodes/1", stranger)).body).toContain("https://films.example/again.mp4");
    expect(await joinSession(world.app, slug, "episodes/1", { visitorId: guest })).toBe(`/l/${slug}/episodes/1`);
    await advance(world, 24 * 60);
    expect((await look(world, context, "episodes/1", stranger)).body).not.toContain("again.mp4");
  });
  it("keeps no place for an address that is not confirmed", async () => {
    const context = await withSession("always");
    const guest = randomUUID();
    expect((await register(context, guest)).headers["location"]).toContain("asked=live");
    expect((await look(world, context, "episodes/1", guest)).body).not.toContain("You have a place.");
    const given = await em().findOneOrFail(OptIn, { visitorId: guest });
    expect(await em().count(EmailMessage, { key: `confirm:${given.id}` })).toBe(1);
    const { signLink } = await import("../../src/server/platform/access/signedLink");
    const token = signLink(world.app.config.INKBELL_SECRET, "opt_in", given.id, now(), 7);
    await confirmAddress(world.app, context.launch.slug, token, guest);
    expect((await look(world, context, "episodes/1", guest)).body).toContain("You have a place.");
  });
  const eventOf = (text: string) => new ICAL.Event(new ICAL.Component(ICAL.parse(text) as never).getFirstSubcomponent("vevent")!);
  // Outside: RFC 5545, read by ical.js, a parser of its own.
  it("is one event of a calendar file, which keeps its name when it is moved", async () => {
    const context = await withSession();
    const read = async (of: LaunchContext) => {
      const text = await calendarFile(world.app, of.launch.slug, "episodes/1", { link: null });
      return eventOf(text!);
    };
    const first = await read(context);
    const starts = context.plan.episodes[0]!.live!.starts;
    expect(first.startDate.toJSDate()).toEqual(starts);
    expect(first.endDate.toJSDate().getTime() - starts.getTime()).toBe(3_600_000);
    expect(first.description).not.toContain(url);
    const [one] = context.launch.settings.episodes;
    const moved = await setSettings(world, context, { episodes: [{ ...one!, live: { ...one!.live!, lengthMinutes: 90 } }] });
    const second = await read(moved);
    expect(second.uid).toBe(first.uid);
    expect(second.sequence).toBeGreaterThan(first.sequence);
  });
  it("stands beside the bells of the doors, which everybody may put into a calendar as they hold for them", async () => {
    const of = await openLaunch(world);
    const entry = async (context: LaunchContext, moment: string, who: Partial<Parameters<typeof calendarFile>[3]> = {}) => {
      const text = await calendarFile(world.app, context.launch.slug, moment, { link: null, ...who });
      return text === undefined ? undefined : eventOf(text);
    };
    const window = of.plan.clock.kind === "fixed" ? of.plan.clock.window : undefined;
    const closing = (await entry(of, "closing"))!;
    expect([closing.startDate.toJSDate(), closing.endDate.toJSDate()]).toEqual([window!.closes, window!.closes]);
    expect(closing.summary).toBe(`The doors of ${of.launch.name} close`);
    expect((await entry(of, "opening"))!.startDate.toJSDate()).toEqual(window!.opens);
    expect([await entry(of, "sales"), await entry(of, "nothing"), await calendarFile(world.app, "nowhere", "opening", { link: null })]).toEqual([undefined, undefined, undefined]); // prettier-ignore
    // With a clock of their own each person's closing is another, and nobody's is known before it starts.
    const own = await openLaunch(world, { request: { clock: "personal", personHours: 48 } });
    const who = visitor();
    expect(await entry(own, "closing", who)).toBeUndefined();
    await optIn(
      em(),
      own,
      { email: `una.${randomUUID()}@heddle.example`, firstName: "Una", answers: {} },
      sentBy(who.visitorId, now(), { page: "" }),
    );
    const theirs = (await entry(own, "closing", who))!.startDate.toJSDate();
    expect(Math.round((theirs.getTime() - now().getTime()) / 3_600_000)).toBe(48);
    const hidden = await openLaunch(world, { publish: false });
    expect(await entry(hidden, "opening")).toBeUndefined();
  });
});
