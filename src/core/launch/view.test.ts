import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  answerSpans,
  bells,
  checkoutRefusal,
  countdownAt,
  countdownFigure,
  fullMoment,
  gateAnswer,
  graceEnd,
  nextBell,
  pageKinds,
  phaseOf,
  phaseWords,
  shortMoment,
  view,
  zoneCity,
  type LaunchPlan,
  type LaunchView,
} from ".";

const minute = 60_000;
const opens = new Date("2026-11-20T18:00:00Z");
const closes = new Date("2026-11-27T00:00:00Z");
const after = (at: Date, ms: number) => new Date(at.getTime() + ms);
const plan = (change: Partial<LaunchPlan> = {}): LaunchPlan => ({
  slug: "gansey",
  name: "The Gansey Workshop",
  zone: "Europe/Lisbon",
  runUpFrom: new Date("2026-11-11T18:00:00Z"),
  window: { opens, closes },
  graceMinutes: 10,
  price: { minor: 14_900, currency: "EUR" },
  pages: pageKinds.map((kind) => ({ kind, slug: kind === "optin" ? "" : kind, title: kind, published: true })),
  ...change,
});
const answerAt = (seen: LaunchView, slug: string) => {
  const { answer } = seen.addresses.find((address) => address.slug === slug)!;
  return "redirect" in answer ? "redirect" : answer.kind;
};

/** Any launch with a sane order of instants, and any instant around it. */
const anyLaunch = fc
  .record({
    from: fc.integer({ min: 0, max: 1e10 }),
    runUp: fc.integer({ min: 0, max: 1e9 }),
    open: fc.integer({ min: 1, max: 1e9 }),
    grace: fc.integer({ min: 0, max: 600 }),
  })
  .map(({ from, runUp, open, grace }) => {
    const start = 1.7e12 + from;
    return plan({
      runUpFrom: new Date(start),
      window: { opens: new Date(start + runUp), closes: new Date(start + runUp + open) },
      graceMinutes: grace,
    });
  });

describe("a window", () => {
  it("is half-open: at the instant it closes, it is closed", () => {
    expect(phaseOf({ opens, closes }, after(opens, -1))).toBe("before");
    expect(phaseOf({ opens, closes }, opens)).toBe("during");
    expect(phaseOf({ opens, closes }, after(closes, -1))).toBe("during");
    expect(phaseOf({ opens, closes }, closes)).toBe("after");
  });
});

describe("a gate", () => {
  it("lets one address show the opt-in, then the sales page, then the closed page", () => {
    expect(gateAnswer(plan(), "optin", after(opens, -1))).toBe("optin");
    expect(gateAnswer(plan(), "optin", opens)).toBe("sales");
    expect(gateAnswer(plan(), "optin", closes)).toBe("closed");
  });
  it("leaves the pages behind an order alone", () => {
    for (const at of [after(opens, -1), opens, closes]) {
      expect(gateAnswer(plan(), "thanks", at)).toBe("thanks");
      expect(gateAnswer(plan(), "offer", at)).toBe("offer");
    }
  });
});

describe("a checkout", () => {
  it("is refused before the doors open, with the instant they do", () => {
    expect(checkoutRefusal(plan(), undefined, after(opens, -1))).toEqual({ code: "doors_not_open", opensAt: opens });
    expect(checkoutRefusal(plan(), after(opens, -minute), after(opens, -1))).toMatchObject({ code: "doors_not_open" });
  });
  it("may be paid while they are open, begun or not", () => {
    expect(checkoutRefusal(plan(), undefined, opens)).toBeUndefined();
    expect(checkoutRefusal(plan(), opens, after(closes, -1))).toBeUndefined();
  });
  it("begun before the bell may finish within the grace time, and no longer", () => {
    const begun = after(closes, -1);
    expect(checkoutRefusal(plan(), begun, closes)).toBeUndefined();
    expect(checkoutRefusal(plan(), begun, after(closes, 10 * minute - 1))).toBeUndefined();
    expect(checkoutRefusal(plan(), begun, after(closes, 10 * minute))).toEqual({ code: "grace_over", graceEndedAt: after(closes, 10 * minute) });
  });
  it("begun at the bell, or before the doors, has no grace", () => {
    expect(checkoutRefusal(plan(), closes, after(closes, 1))).toEqual({ code: "doors_closed", closedAt: closes });
    expect(checkoutRefusal(plan(), after(opens, -1), after(closes, 1))).toMatchObject({ code: "doors_closed" });
    expect(checkoutRefusal(plan(), undefined, closes)).toMatchObject({ code: "doors_closed" });
  });
  it("has no grace where the vendor gives none", () => {
    expect(checkoutRefusal(plan({ graceMinutes: 0 }), after(closes, -1), closes)).toMatchObject({ code: "grace_over" });
  });
});

describe("the view of a launch", () => {
  it("changes for nobody but at a listed bell", () => {
    const anyOne = fc.record({ hasOrder: fc.boolean(), begun: fc.option(fc.integer({ min: -1e8, max: 1e9 }), { nil: undefined }) });
    fc.assert(
      fc.property(anyLaunch, anyOne, fc.array(fc.double({ min: -0.1, max: 1.2, noNaN: true }), { maxLength: 12 }), (launch, person, shares) => {
        const who = { hasOrder: person.hasOrder, checkoutBegunAt: person.begun === undefined ? undefined : after(launch.window.opens, person.begun) };
        const rings = bells(launch).map(({ at }) => at.getTime());
        const [from, to] = [rings[0]! - 1e6, rings.at(-1)! + 1e6];
        const instants = [...shares.map((share) => from + share * (to - from)), ...rings, ...rings.map((at) => at - 1)].sort((a, b) => a - b);
        const shape = (ms: number) => JSON.stringify(view(launch, who, new Date(ms)).addresses);
        for (let i = 1; i < instants.length; i += 1) {
          const [a, b] = [instants[i - 1]!, instants[i]!];
          if (!rings.some((ring) => a < ring && ring <= b)) expect(shape(b)).toBe(shape(a));
        }
      }),
    );
  });
  it("never shows a checkout that the server would refuse", () => {
    fc.assert(
      fc.property(anyLaunch, fc.integer({ min: -1e9, max: 2e9 }), fc.integer({ min: -1e9, max: 1e9 }), (launch, offset, begun) => {
        const at = after(launch.window.opens, offset);
        const checkoutBegunAt = after(launch.window.opens, begun);
        const shown = answerAt(view(launch, { checkoutBegunAt }, at), "checkout") === "checkout";
        expect(shown).toBe(checkoutRefusal(launch, checkoutBegunAt, at) === undefined);
      }),
    );
  });
  it("counts down to the opening, then to the closing, then not at all", () => {
    expect(countdownAt(plan(), after(opens, -1))).toEqual({ until: opens, to: "opening" });
    expect(countdownAt(plan(), opens)).toEqual({ until: closes, to: "closing" });
    expect(countdownAt(plan(), closes)).toBeUndefined();
  });
  it("leads people without an order away from the pages behind one", () => {
    expect(answerAt(view(plan(), {}, opens), "offer")).toBe("redirect");
    expect(answerAt(view(plan(), { hasOrder: true }, closes), "thanks")).toBe("thanks");
  });
  it("says of each page whether it is published", () => {
    const draft = plan({ pages: plan().pages.map((page) => ({ ...page, published: page.kind !== "sales" })) });
    expect(view(draft, {}, opens).addresses[0]!.answer).toEqual({ kind: "sales", published: false });
  });
  it("names the price where a page names one, and nowhere else", () => {
    const seen = view(plan(), {}, opens);
    expect(seen.addresses.filter(({ price }) => price).map(({ owner }) => owner)).toEqual(["optin", "sales", "checkout"]);
    expect(view(plan(), {}, closes).addresses.some(({ price }) => price)).toBe(false);
  });
});

describe("the bells", () => {
  it("ring in order, and the next one is ahead", () => {
    expect(bells(plan()).map(({ kind }) => kind)).toEqual(["run_up", "opening", "closing", "grace_end"]);
    expect(nextBell(plan(), opens)?.kind).toBe("closing");
    expect(nextBell(plan(), graceEnd(plan()))).toBeUndefined();
    fc.assert(
      fc.property(anyLaunch, (launch) => {
        const instants = bells(launch).map(({ at }) => at.getTime());
        expect(instants).toEqual([...instants].sort((a, b) => a - b));
      }),
    );
  });
  it("cut the score's spans so that they cover the time without gap or overlap", () => {
    fc.assert(
      fc.property(anyLaunch, fc.constantFrom(...plan().pages.map(({ slug }) => slug)), (launch, slug) => {
        const [from, to] = [after(launch.runUpFrom, -5), after(graceEnd(launch), 1e7)];
        const spans = answerSpans(launch, slug, from, to);
        expect(spans[0]!.from).toEqual(from);
        expect(spans.at(-1)!.to).toEqual(to);
        for (let i = 1; i < spans.length; i += 1) {
          expect(spans[i]!.from).toEqual(spans[i - 1]!.to);
          expect(spans[i]!.answer).not.toBe(spans[i - 1]!.answer);
        }
      }),
    );
  });
});

describe("the words of time", () => {
  it("count days, hours, minutes and seconds, and never below zero", () => {
    expect(countdownFigure(((2 * 24 + 4) * 3600 + 17 * 60 + 32) * 1000)).toBe("2 d 04:17:32");
    expect(countdownFigure(5 * 3600 * 1000)).toBe("05:00:00");
    expect(countdownFigure(1)).toBe("00:00:01");
    expect(countdownFigure(-5)).toBe("00:00:00");
  });
  it("name a moment in the launch's zone", () => {
    expect(shortMoment(closes, "Europe/Lisbon")).toBe("Fri 27 Nov, 00:00");
    expect(shortMoment(closes, "America/New_York")).toBe("Thu 26 Nov, 19:00");
    expect(fullMoment(closes, "Europe/Lisbon")).toBe("Friday 27 November 2026 at 00:00");
    expect(zoneCity("America/Argentina/Buenos_Aires")).toBe("Buenos Aires");
  });
  it("say where the launch stands", () => {
    expect(phaseWords(plan(), after(opens, -1))).toBe("Run-up, doors closed");
    expect(phaseWords(plan(), opens)).toBe("Doors open, day 1 of 7");
    expect(phaseWords(plan(), after(closes, -1))).toBe("Doors open, day 7 of 7");
    expect(phaseWords(plan(), closes)).toBe("Doors closed");
  });
});
