import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { pageKinds, type LaunchPlan } from "../core/launch";
import { LaunchAxis } from "./launch/LaunchAxis";
import { ScoreLanes, scoreRange, timeScale } from "./launch/ScoreLanes";
import { SeenPane } from "./launch/SeenPane";
import { StageFlow } from "./leaks/StageFlow";
import { AudienceLadder } from "./retarget/AudienceLadder";
import { view } from "../core/launch";

const day = 86_400_000;
const opens = new Date("2026-11-20T18:00:00Z");
const plan: LaunchPlan = {
  slug: "gansey",
  name: "The Gansey Workshop",
  zone: "Europe/Lisbon",
  runUpFrom: new Date(opens.getTime() - 9 * day),
  window: { opens, closes: new Date(opens.getTime() + 6 * day) },
  graceMinutes: 10,
  price: { minor: 14_900, currency: "EUR" },
  pages: pageKinds.map((kind) => ({ kind, slug: kind === "optin" ? "" : kind, title: kind, published: true })),
};
const now = new Date(opens.getTime() + 2 * day);
const numbers = (svg: string, pattern: RegExp) => [...svg.matchAll(pattern)].map(([, n]) => Number(n));

describe("the stream of people", () => {
  it("is drawn to scale, and what goes on and what is lost make what came", () => {
    const svg = renderToStaticMarkup(
      <StageFlow funnel={{ visited: 1000, opted_in: 300, saw_sales: 500, began_checkout: 100, paid: 40 }} value={14_900} currency="EUR" />,
    );
    const heights = numbers(svg, /<rect[^>]*height="([\d.]+)"/g);
    expect(heights[0]).toBeCloseTo(54, 5);
    expect(heights[1]! / heights[0]!).toBeCloseTo(100 / 500, 5);
    for (const text of ["500 left here, 50.0 %", "400 left here, 80.0 %", "60 left here, 60.0 %", "€8,940.00 on the table", "300 of 1,000"])
      expect(svg).toContain(text);
  });
  it("of nobody is still a drawing", () => {
    expect(
      renderToStaticMarkup(<StageFlow funnel={{ visited: 0, opted_in: 0, saw_sales: 0, began_checkout: 0, paid: 0 }} value={100} currency="EUR" />),
    ).not.toContain("NaN");
  });
});

describe("the score's lanes", () => {
  const [from, to] = scoreRange(plan, now.getTime());
  const draw = (playhead?: number) =>
    renderToStaticMarkup(
      <ScoreLanes
        plan={plan}
        from={from}
        to={to}
        width={744}
        now={now.getTime()}
        playhead={playhead}
        figures={{ people: 6204, orders: "83 orders, €12,310.00" }}
        curve={[
          { hour: "2026-11-20T18:00:00.000Z", visits: 58, orders: 9 },
          { hour: "2026-11-20T20:00:00.000Z", visits: 20, orders: 2 },
        ]}
      />,
    );
  it("show every address, the price, the peak of the curve and the figures beside it", () => {
    const svg = draw();
    for (const text of ["/checkout", "opt-in and countdown", "€149.00", "58 an hour", "6,204 people", "83 orders, €12,310.00", "Doors open 18:00"])
      expect(svg).toContain(text);
    expect(svg).not.toContain("NaN");
  });
  it("put now and the playhead where the time scale puts them", () => {
    const x = timeScale(from, to, 744);
    expect(x.invert(x(now)).getTime()).toBe(now.getTime());
    const at = opens.getTime() + day;
    expect(draw(at)).toContain(`x1="${x(at)}" x2="${x(at)}"`);
    expect(draw()).not.toContain("var(--madder)");
  });
  it("fit from the run-up to after the last bell", () => {
    expect(from.getTime()).toBeLessThan(plan.runUpFrom.getTime());
    expect(to.getTime()).toBeGreaterThan(plan.window.closes.getTime() + 10 * 60_000);
  });
});

describe("what is seen at an instant", () => {
  const pane = (at: Date, hasOrder = false) =>
    renderToStaticMarkup(
      <SeenPane plan={plan} seen={view(plan, { hasOrder }, at)} at={at} isNow={false}>
        {null}
      </SeenPane>,
    );
  it("says for every address what it answers, with price and countdown where they stand", () => {
    const html = pane(now);
    expect([...html.matchAll(/data-answer="(\w+)"/g)].map(([, kind]) => kind)).toEqual([
      "sales",
      "sales",
      "checkout",
      "redirect",
      "redirect",
      "closed",
    ]);
    expect(html.match(/4 d 00:00:00/g)).toHaveLength(3);
    expect(html.match(/€149\.00/g)).toHaveLength(3);
    expect(html).toContain("Next change: doors close, Thu 26 Nov, 18:00.");
  });
  it("says when nothing changes any more", () => expect(pane(new Date(opens.getTime() + 30 * day))).toContain("Nothing changes any more."));
});

describe("the launches on their axis", () => {
  it("stand in one row each, with a bell at either end of the doors", () => {
    const rows = [plan, { ...plan, slug: "other", name: "Other" }].map((p) => ({
      plan: p,
      standing: "Closed",
      money: "€1.00",
      counts: "1 order",
      draft: false,
    }));
    const html = renderToStaticMarkup(<LaunchAxis launches={rows} now={now} />);
    expect(html.match(/<h2>/g)).toHaveLength(2);
    expect(html.match(/<g transform="translate\([\d.]+ [\d.]+\) scale/g)).toHaveLength(4);
    expect(html).not.toContain("NaN");
  });
});

describe("the ladder of audiences", () => {
  it("says how many there are, and where they are too few to be delivered", () => {
    const rows = [
      { country: "Portugal", people: 40, addresses: 21 },
      { country: "Italy", people: 9, addresses: 19 },
    ];
    const html = renderToStaticMarkup(
      <AudienceLadder
        smallest={20}
        rungs={[
          { key: "a", name: "Looked", href: "/f.csv", rows },
          { key: "b", name: "None", href: "/g.csv", rows: [] },
        ]}
      />,
    );
    expect(html).toContain("49 people, 40 of them");
    expect(html.match(/too few to be delivered/g)).toHaveLength(1);
    expect(html).toContain("Nobody yet");
  });
});
