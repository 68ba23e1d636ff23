import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { personalClock, planFor } from "../../tests/support/plans";
import { view, wallTimeOf, type Viewer } from "../core/launch";
import { LaunchAxis } from "./launch/LaunchAxis";
import { ChangeView } from "./launch/ChangeView";
import { Playhead } from "./launch/score/Playhead";
import { ScoreLanes } from "./launch/score/ScoreLanes";
import { SeenPane } from "./launch/score/SeenPane";
import { Chart, pointAfter } from "./kit/charts/Chart";
import { axisTicks } from "./kit/charts/timeTicks";
import { hourRows, hourWords } from "./launch/score/ArrivalCurve";
import { scoreRange, timeScale } from "./launch/score/timeAxis";
import { StageFlow } from "./leaks/StageFlow";
import { AudienceLadder } from "./retarget/AudienceLadder";

const day = 86_400_000;
const [opens, closes] = [new Date("2026-11-20T18:00:00Z"), new Date("2026-11-27T00:00:00Z")];
const now = new Date("2026-11-23T12:00:00Z");
const plan = planFor({ settings: { seats: 100 } });
const personalPlan = planFor({ clock: personalClock, shape: "short" });
const numbers = (svg: string, pattern: RegExp) => [...svg.matchAll(pattern)].map(([, n]) => Number(n));

describe("the stream of people", () => {
  it("is drawn to scale, and what goes on and what is lost make what came", () => {
    const svg = renderToStaticMarkup(
      <StageFlow
        slug="gansey"
        reach={{ sent: 290, opened: 150, clicked: 60 }}
        funnel={{ visited: 1000, opted_in: 300, saw_sales: 500, began_checkout: 100, paid: 40 }}
        value={14_900}
        currency="EUR"
      />,
    );
    const heights = numbers(svg, /<rect[^>]*height="([\d.]+)"/g);
    expect(heights[0]).toBeCloseTo(54, 5);
    expect(heights[1]! / heights[0]!).toBeCloseTo(100 / 500, 5);
    for (const text of ["500 left here, 50.0 %", "400 left here, 80.0 %", "60 left here, 60.0 %", "€8,940.00 at stake", "300 of 1,000"])
      expect(svg).toContain(text);
    // Every number leads to its people.
    expect(svg.match(/href="\/desk\/gansey\/people\?who=[^"]+"/g)).toHaveLength(10);
    expect(svg).toContain("was+sent+any+email");
    expect(svg).toContain("began+a+checkout%3B+none+of+%28paid%29");
  });
  it("of nobody is still a drawing", () => {
    expect(
      renderToStaticMarkup(
        <StageFlow
          slug="gansey"
          reach={{ sent: 0, opened: 0, clicked: 0 }}
          funnel={{ visited: 0, opted_in: 0, saw_sales: 0, began_checkout: 0, paid: 0 }}
          value={100}
          currency="EUR"
        />,
      ),
    ).not.toContain("NaN");
  });
});

describe("the score's lanes", () => {
  it("show what went of a sequence, or one person's steps, and only what is within the picture", () => {
    const at = (hours: number) => new Date(opens.getTime() + hours * 3_600_000);
    const bars = draw({ sequences: [{ id: "s", name: "New people", sent: [{ at: at(1), sent: 4 }, { at: at(7), sent: 8 }, { at: at(9000), sent: 1 }] }] }); // prettier-ignore
    expect(bars).toContain("New people");
    expect(bars.match(/fill="var\(--woad\)"/g)).toHaveLength(2);
    const marks = draw({
      sequences: [
        {
          id: "s",
          name: "New people",
          sent: [],
          marks: [
            { step: "a", at: at(1) },
            { step: "b", at: at(9000) },
          ],
        },
      ],
    });
    expect(marks.length - draw({ sequences: [{ id: "s", name: "New people", sent: [], marks: [] }] }).length).toBeGreaterThan(50);
  });
  const [from, to] = scoreRange(plan, {}, now.getTime());
  const sales = { at: [opens.getTime() + 1_000, opens.getTime() + day], sold: [1, 2] };
  const draw = (change: Partial<Parameters<typeof ScoreLanes>[0]> = {}) =>
    renderToStaticMarkup(
      <ScoreLanes
        plan={plan}
        who={{}}
        from={from}
        to={to}
        width={744}
        now={now.getTime()}
        run={new Set(["email:doors-open"])}
        sales={sales}
        sequences={[]}
        arrivals={{
          people: 6204,
          orders: "83 orders, €12,310.00",
          curve: [
            { hour: "2026-11-20T18:00:00.000Z", visits: 58, orders: 9 },
            { hour: "2026-11-20T20:00:00.000Z", visits: 20, orders: 2 },
          ],
        }}
        {...change}
      />,
    );
  it("show every address, the price, seats, emails, the peak of the curve and the figures beside it", () => {
    const svg = draw();
    for (const text of ["/checkout", "/episodes/3", "opt-in", "€149.00", "98 of 100 seats left", "Episode 1 is ready", "58 an hour", "6,204 people"])
      expect(svg).toContain(text);
    for (const text of ["Doors open 18:00", "Doors close", "to the opening", `fill="var(--bronze)"`]) expect(svg).toContain(text);
    expect(svg).not.toContain("NaN");
  });
  it("tell emails that went from those to come, and what is chosen from the rest", () => {
    const email = (svg: string, key: string) => /<rect[^>]*width="8"[^>]*fill="([^"]*)"/.exec(svg.slice(svg.indexOf(`data-bell="email:${key}"`)))![1];
    expect(email(draw(), "doors-open")).toBe("currentColor");
    expect(email(draw(), "last-day")).toBe("var(--paper)");
    const chosen = (svg: string) => svg.match(/color="var\(--madder\)"/g)?.length ?? 0;
    expect(chosen(draw())).toBe(0);
    expect(chosen(draw({ selected: "closing" }))).toBe(1);
  });
  it("of a person's own clock begin with its start", () => {
    const who: Viewer = { starts: [now] };
    const [a, b] = scoreRange(personalPlan, who, now.getTime());
    const svg = draw({ plan: personalPlan, who, from: a, to: b });
    expect(svg).toContain("Clock starts 12:00");
    expect(svg).not.toContain("NaN");
    expect(draw({ plan: personalPlan, from: a, to: b })).not.toContain("Clock starts");
  });
  it("put the playhead and a bell under way where the time scale puts them", () => {
    const x = timeScale(from, to, 744);
    const at = opens.getTime() + day;
    const svg = renderToStaticMarkup(
      <Playhead at={at} dragged={{ kind: "closing", to: at + day }} zone={plan.zone} from={from} to={to} width={744} bottom={300} />,
    );
    expect(svg).toContain(`x1="${x(at)}" x2="${x(at)}"`);
    expect(svg).toContain(`x1="${x(at + day)}" x2="${x(at + day)}"`);
    expect(x.invert(x(at)).getTime()).toBe(at);
  });
  it("fit from the run-up to after the last bell", () => {
    expect(from.getTime()).toBeLessThan(opens.getTime() - 7 * day);
    expect(to.getTime()).toBeGreaterThan(closes.getTime() + 10 * 60_000);
  });
  it("have an axis of whole days, hours or minutes of the launch's zone", () => {
    // While a year is typed a launch may be open for two thousand of them.
    expect(axisTicks(new Date("0002-12-01T00:00:00Z"), now, "Europe/Lisbon", 640).length).toBeLessThan(200);
    const labels = (span: number, zone = "Asia/Kolkata") => axisTicks(now, new Date(now.getTime() + span), zone, 640).map(({ label }) => label);
    expect(labels(3_600_000).slice(0, 3)).toEqual(["17:30", "17:40", "17:50"]);
    expect(labels(12 * 3_600_000)[0]).toBe("18:00");
    expect(labels(9 * day).every((label) => /^(\w{3} \d+|)$/.test(label))).toBe(true);
  });
  const after: Record<string, string> = { "00:00": "06:00", "06:00": "12:00", "12:00": "18:00", "18:00": "00:00" };
  it("keeps every midnight and every sixth hour of the nights on which clocks are put on and back", () => {
    for (const zone of ["Europe/Berlin", "America/New_York", "Australia/Lord_Howe", "Asia/Kathmandu"])
      for (const begin of ["2026-03-05T07:00Z", "2026-03-26T07:00Z", "2026-10-01T07:00Z", "2026-10-24T07:00Z", "2026-10-30T07:00Z"]) {
        const at = new Date(begin);
        const walls = (days: number) =>
          axisTicks(at, new Date(at.getTime() + days * day), zone, 640).map((tick) => wallTimeOf(tick.at, zone).slice(11, 16));
        expect(walls(9)).toEqual(Array(9).fill("00:00"));
        const hours = walls(2);
        expect(hours.length).toBeGreaterThanOrEqual(7);
        hours.slice(1).forEach((hour, index) => expect(hour).toBe(after[hours[index]!]));
      }
  });
});

describe("what is seen at an instant", () => {
  const pane = (at: Date, who: Viewer = {}) =>
    renderToStaticMarkup(
      <SeenPane plan={plan} who={who} as={{ kind: "new" }} seen={view(plan, who, at, { sold: 63 })} at={at} isNow={false}>
        {null}
      </SeenPane>,
    );
  it("says for every address what it answers, with picture, price, seats and countdown where they stand", () => {
    const html = pane(now);
    expect([...html.matchAll(/data-answer="([\w/]+)"/g)].map(([, key]) => key)).toEqual([
      "sales",
      "episodes/1",
      "episodes/2",
      "episodes/3",
      "sales",
      "checkout",
      "redirect",
      "redirect",
      "closed",
    ]);
    expect(html.match(/3 d 12:00:00/g)).toHaveLength(3);
    expect(html.match(/€149\.00/g)).toHaveLength(3);
    expect(html.match(/37 of 100 seats left/g)).toHaveLength(3);
    expect(html.match(/<iframe[^>]*sandbox=""/g)).toHaveLength(9);
    expect(html).toContain("at=2026-11-23T12%3A00%3A00.000Z&amp;as=new");
    expect(html).toContain("Next change for this person: Countdown says “Last day”, Thu 26 Nov, 00:00.");
  });
  it("says when nothing changes any more", () =>
    expect(pane(new Date(opens.getTime() + 30 * day))).toContain("Nothing changes for this person any more."));
});

describe("what a change does", () => {
  const show = (people: number) =>
    renderToStaticMarkup(
      <ChangeView
        what="Doors close later"
        zone="Europe/Lisbon"
        currency="EUR"
        busy={false}
        onApply={() => undefined}
        onLeave={() => undefined}
        summary={{
          moved: [{ key: "closing#1", label: "Doors close", from: closes, to: new Date(closes.getTime() + day) }],
          sequences: [{ name: "First days", is: "added" }],
          countdowns: people ? [{ minutes: 1440, people }] : [],
          reopened: 0,
          shut: 0,
          warnings: people ? [{ code: "closing_later", people }] : [],
        }}
      />,
    );
  it("is said in numbers, with the reason for a second thought", () => {
    expect(show(612)).toContain("612 people: the countdown moves 1 day later.");
    expect(show(612)).toContain("Directive 2005/29/EC");
    expect(show(612)).toContain("Change it all the same");
    expect(show(0)).toContain("Nobody’s countdown moves.");
    expect(show(0)).toContain("Change it</button>");
  });
});

describe("the launches on their axis", () => {
  it("stand in one row each, with a bell at either end of the doors", () => {
    const rows = [plan, { ...plan, slug: "other", name: "Other" }].map((p) => ({
      plan: p,
      name: p.name,
      status: "Closed",
      money: "€1.00",
      counts: "1 order",
      draft: false,
      since: opens,
    }));
    const html = renderToStaticMarkup(<LaunchAxis launches={rows} now={now} />);
    expect(html.match(/<h2>/g)).toHaveLength(2);
    expect(html.match(/<g transform="translate\([\d.]+ [\d.]+\) scale/g)).toHaveLength(4);
    expect(html).not.toContain("NaN");
  });
  it("that are always on run on, without a bell of everyone's", () => {
    const html = renderToStaticMarkup(
      <LaunchAxis
        now={now}
        launches={[{ plan: personalPlan, name: "Primer", status: "Always on", money: "–", counts: "0 people", draft: false, since: opens }]}
      />,
    );
    expect(html).toContain("since Fri 20 Nov, 18:00");
    expect(html).toContain("url(#always-on)");
    expect(html).not.toContain("NaN");
  });
});

describe("the ladder of audiences", () => {
  it("says how many there are, and where they are too few to be delivered", () => {
    const countries = [
      { country: "Portugal", people: 40, addresses: 21 },
      { country: "Italy", people: 9, addresses: 19 },
    ];
    const rungs = [
      { key: "a", name: "Looked", href: "/f.csv" },
      { key: "b", name: "None", href: "/g.csv" },
    ];
    const drawn = (state: { failure?: string }) => renderToStaticMarkup(<AudienceLadder smallest={20} rungs={rungs} {...state} />);
    expect(drawn({}).match(/Counting…/g)).toHaveLength(2);
    expect(drawn({ failure: "The server is busy." })).toContain("They could not be counted: The server is busy.");
    const html = renderToStaticMarkup(
      <AudienceLadder
        smallest={20}
        rungs={rungs}
        sizes={[
          { key: "a", countries },
          { key: "b", countries: [] },
        ]}
      />,
    );
    expect(html).toContain("49 people, 40 of them");
    expect(html.match(/below the minimum audience size/g)).toHaveLength(1);
    expect(html).toContain("Nobody yet");
  });
});

describe("a chart of the kit", () => {
  it("is read by arrows from end to end, and begins where the arrow points from", () => {
    expect(pointAfter("ArrowRight", undefined, 4)).toBe(0);
    expect(pointAfter("ArrowLeft", undefined, 4)).toBe(3);
    expect(pointAfter("ArrowRight", 3, 4)).toBe(3);
    expect(pointAfter("ArrowLeft", 0, 4)).toBe(0);
    expect([pointAfter("Home", 2, 4), pointAfter("End", 2, 4), pointAfter("a", 2, 4)]).toEqual([0, 3, undefined]);
  });
  it("has one stop for the keyboard, and its figures behind it", () => {
    const html = renderToStaticMarkup(
      <Chart
        name="Order values"
        summary="Two values."
        width={100}
        height={20}
        points={[{ x: 10, words: "€9.00: 40 %" }]}
        table={{ columns: ["Order value", "Share"], rows: [["€9.00", "40 %"]] }}
      >
        <path d="M0 0" />
      </Chart>,
    );
    const table = html.slice(html.indexOf("<details"));
    expect(html.slice(0, html.indexOf("<details")).match(/tabindex="0"/g)).toHaveLength(1);
    expect(table).toContain("Order values as a table");
    expect(table).toMatch(/<th scope="row">€9\.00<\/th><td[^>]*>40 %/);
  });
  it("says what came in the hour under the playhead, in the launch's zone, and nothing of an hour that is still to come", () => {
    const curve = [
      { hour: "2026-11-23T10:00:00.000Z", visits: 31, orders: 1 },
      { hour: "2026-11-23T11:00:00.000Z", visits: 0, orders: 0 },
    ];
    expect(hourWords(curve, new Date("2026-11-23T10:59:59Z").getTime(), "Europe/Berlin")).toBe("11:00: 31 visits, 1 order");
    expect(hourWords(curve, new Date("2026-11-23T12:00:00Z").getTime(), "Europe/Berlin")).toBeUndefined();
    expect(hourRows(curve, "Europe/Berlin")).toEqual([[expect.stringContaining("11:00"), "31", "1"]]);
  });
});
