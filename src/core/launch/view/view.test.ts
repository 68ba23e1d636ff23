import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { after, anyPerson, anyPlan, day, minute, personalClock, planFor, weeklyClock } from "../../../../tests/support/plans";
import {
  answerSpans,
  bells,
  checkoutRefusal,
  countdownAt,
  countdownFigure,
  countdownSpans,
  gateAnswer,
  graceEnd,
  nextBell,
  nextChange,
  pageOf,
  phaseOf,
  phaseWords,
  view,
  viewOfAll,
  windowFor,
  type GateRule,
  type LaunchPlan,
  type LaunchView,
} from "..";
import { fullMoment, shortMoment, zoneCity } from "../../words";

const opens = new Date("2026-11-20T18:00:00Z");
const closes = new Date("2026-11-27T00:00:00Z");
const plan = planFor;
const answerAt = (seen: LaunchView, slug: string) => {
  const { answer } = seen.addresses.find((address) => address.slug === slug)!;
  return "redirect" in answer ? answer.redirect : answer.page.key;
};
const gate = (rule: Omit<GateRule, "id">): GateRule => ({ id: "g", ...rule });
const itself = { to: "itself" } as const;
const around = (p: LaunchPlan) => (p.clock.kind === "fixed" ? p.clock.window.opens : new Date("2026-11-02T10:00:00Z"));

describe("a window", () => {
  it("is half-open: at the instant it closes, it is closed", () => {
    expect(phaseOf({ opens, closes }, after(opens, -1))).toBe("before");
    expect(phaseOf({ opens, closes }, opens)).toBe("during");
    expect(phaseOf({ opens, closes }, after(closes, -1))).toBe("during");
    expect(phaseOf({ opens, closes }, closes)).toBe("after");
  });
});

describe("a gate", () => {
  const answer = (p: LaunchPlan, key: string, phase: "before" | "during" | "after") => gateAnswer(p, pageOf(p, key)!, phase);
  it("lets one address show the opt-in, then the sales page, then the closed page", () => {
    expect((["before", "during", "after"] as const).map((phase) => answer(plan(), "optin", phase))).toEqual([
      { page: "optin" },
      { page: "sales" },
      { page: "closed" },
    ]);
  });
  it("of a launch that stops at the opt-in keeps the opt-in open", () => {
    expect(answer(plan({ shape: "list" }), "optin", "during")).toEqual({ page: "optin" });
  });
  it("leaves the pages behind an order alone, whatever a rule says", () => {
    const all = plan({
      settings: {
        gates: [gate({ covers: { mode: "but", pages: [], folders: [] }, before: itself, during: itself, after: { to: "page", page: "closed" } })],
      },
    });
    expect(answer(all, "thanks", "after")).toEqual({ page: "thanks" });
    expect(answer(all, "sales", "after")).toEqual({ page: "closed" });
  });
  it("holds for a whole folder, for all pages but some, and leads to an address outside", () => {
    const folder = plan({
      settings: {
        gates: [
          gate({
            covers: { mode: "only", pages: [], folders: ["episodes"] },
            before: { to: "page", page: "optin" },
            during: itself,
            after: { to: "address", url: "https://next.example/" },
          }),
        ],
      },
    });
    expect(answer(folder, "episodes/2", "before")).toEqual({ page: "optin" });
    expect(answer(folder, "episodes/2", "after")).toEqual({ address: "https://next.example/" });
    expect(answer(folder, "sales", "after")).toEqual({ page: "closed" });
    const but = plan({
      settings: {
        gates: [
          gate({
            covers: { mode: "but", pages: ["optin"], folders: ["episodes"] },
            before: { to: "page", page: "optin" },
            during: itself,
            after: itself,
          }),
        ],
      },
    });
    expect(answer(but, "closed", "before")).toEqual({ page: "optin" });
    expect(answer(but, "episodes/1", "before")).toEqual({ page: "episodes/1" });
  });
  it("is decided by the first rule that covers the page", () => {
    const rule = (page: string) =>
      gate({ covers: { mode: "only", pages: ["sales"], folders: [] }, before: { to: "page", page }, during: itself, after: itself });
    expect(answer(plan({ settings: { gates: [rule("closed"), rule("optin")] } }), "sales", "before")).toEqual({ page: "closed" });
  });
  it("answers with the page itself where the page it names is gone", () => {
    const gone = plan({
      settings: {
        gates: [
          gate({ covers: { mode: "only", pages: ["sales"], folders: [] }, before: { to: "page", page: "lost" }, during: itself, after: itself }),
        ],
      },
    });
    expect(answer(gone, "sales", "before")).toEqual({ page: "sales" });
  });
});

describe("a checkout", () => {
  it("is refused before the doors open, with the instant they do", () => {
    expect(checkoutRefusal(plan(), {}, after(opens, -1))).toEqual({ code: "doors_not_open", opensAt: opens });
    expect(checkoutRefusal(plan(), { checkoutBegunAt: after(opens, -minute) }, after(opens, -1))).toMatchObject({ code: "doors_not_open" });
  });
  it("may be paid while they are open, begun or not", () => {
    expect(checkoutRefusal(plan(), {}, opens)).toBeUndefined();
    expect(checkoutRefusal(plan(), { checkoutBegunAt: opens }, after(closes, -1))).toBeUndefined();
  });
  it("begun before the bell may finish within the grace time, and no longer", () => {
    const who = { checkoutBegunAt: after(closes, -1) };
    expect(checkoutRefusal(plan(), who, closes)).toBeUndefined();
    expect(checkoutRefusal(plan(), who, after(closes, 10 * minute - 1))).toBeUndefined();
    expect(checkoutRefusal(plan(), who, after(closes, 10 * minute))).toEqual({ code: "grace_over", graceEndedAt: after(closes, 10 * minute) });
  });
  it("begun at the bell, or before the doors, has no grace", () => {
    for (const checkoutBegunAt of [closes, after(opens, -1), undefined])
      expect(checkoutRefusal(plan(), { checkoutBegunAt }, after(closes, 1))).toMatchObject({ code: "doors_closed" });
  });
  it("has no grace where the vendor gives none", () => {
    const strict = plan({ settings: { graceMinutes: 0 } });
    expect(checkoutRefusal(strict, { checkoutBegunAt: after(closes, -1) }, closes)).toMatchObject({ code: "grace_over" });
  });
  it("begun before one closing of a clock that repeats may finish, though the next opening is ahead", () => {
    const weekly = plan({ clock: weeklyClock });
    const { closes: bell } = windowFor(weekly, {}, new Date("2026-11-09T12:00:00Z"))!;
    expect(checkoutRefusal(weekly, { checkoutBegunAt: after(bell, -minute) }, after(bell, 9 * minute))).toBeUndefined();
    expect(checkoutRefusal(weekly, { checkoutBegunAt: after(bell, -minute) }, after(bell, 11 * minute))).toMatchObject({ code: "doors_not_open" });
  });
  it("is not open to a person whose own clock has not started", () => {
    expect(checkoutRefusal(plan({ clock: personalClock }), {}, opens)).toEqual({ code: "doors_not_open", opensAt: undefined });
    expect(checkoutRefusal(plan({ clock: personalClock }), { starts: [opens] }, after(opens, day))).toBeUndefined();
    expect(checkoutRefusal(plan({ clock: personalClock }), { starts: [opens] }, after(opens, 3 * day))).toMatchObject({ code: "doors_closed" });
  });
});

describe("the view of a launch", () => {
  it("changes for any launch and any person only at a listed bell, or by what they do", () => {
    fc.assert(
      fc.property(
        anyPlan.chain((p) => fc.record({ p: fc.constant(p), who: anyPerson(around(p)) })),
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 12 }),
        ({ p, who }, shares) => {
          const [from, to] = [after(around(p), -30 * day), after(around(p), 60 * day)];
          const rings = bells(p, who, { from, to }).map(({ at }) => at.getTime());
          const deeds = [...(who.starts ?? []), who.stop?.at, who.checkoutBegunAt, who.orderedAt, who.subscribedAt].flatMap((at) =>
            at ? [at.getTime()] : [],
          );
          const listed = [...rings, ...deeds];
          const instants = [
            ...shares.map((share) => from.getTime() + share * (to.getTime() - from.getTime())),
            ...listed,
            ...listed.map((at) => at - 1),
          ].sort((a, b) => a - b);
          const shape = (ms: number) => {
            const { addresses, phase, countdown } = view(p, who, new Date(ms));
            return JSON.stringify([addresses, phase, countdown?.to, countdown?.stage?.id]);
          };
          for (let i = 1; i < instants.length; i += 1) {
            const [a, b] = [instants[i - 1]!, instants[i]!];
            if (!listed.some((ring) => a < ring && ring <= b)) expect(shape(b)).toBe(shape(a));
          }
        },
      ),
      { numRuns: 150 },
    );
  });
  it("never shows a checkout that the server would refuse, nor hides one that it would take", () => {
    fc.assert(
      fc.property(
        anyPlan
          .filter((p) => p.shape !== "list" && p.settings.gates.every(({ id }) => id !== "g"))
          .chain((p) => fc.record({ p: fc.constant(p), who: anyPerson(around(p)) })),
        fc.integer({ min: -30 * day, max: 60 * day }),
        ({ p, who }, offset) => {
          const at = after(around(p), offset);
          const known = {
            ...who,
            stop: undefined,
            checkoutBegunAt: who.checkoutBegunAt && who.checkoutBegunAt <= at ? who.checkoutBegunAt : undefined,
          };
          const { slug } = p.pages.find(({ kind }) => kind === "checkout")!;
          expect(answerAt(view(p, known, at), slug) === "checkout").toBe(checkoutRefusal(p, known, at) === undefined);
        },
      ),
    );
  });
  it("counts down to the opening, then to the closing with its urgent looks, then not at all", () => {
    expect(countdownAt(plan(), {}, after(opens, -1))).toEqual({ until: opens, to: "opening" });
    expect(countdownAt(plan(), {}, opens)).toEqual({ until: closes, to: "closing", stage: undefined });
    expect(countdownAt(plan(), {}, after(closes, -day))?.stage).toMatchObject({ words: "Last day", look: "firm" });
    expect(countdownAt(plan(), {}, after(closes, -3_600_000))?.stage).toMatchObject({ words: "Last hour", look: "loud" });
    expect(countdownAt(plan(), {}, after(closes, -day - 1))?.stage).toBeUndefined();
    expect(countdownAt(plan(), {}, closes)).toBeUndefined();
  });
  it("hurries nobody whose clock was stopped, and leaves their page as it was", () => {
    const own = plan({ clock: personalClock });
    const who = { starts: [opens], stop: { at: after(opens, day) } };
    expect(view(own, who, after(opens, day - 1)).countdown).toBeDefined();
    const later = view(own, who, after(opens, 30 * day));
    expect(later.countdown).toBeUndefined();
    expect(answerAt(later, "join")).toBe("sales");
  });
  it("sends whom another launch took over to that launch", () => {
    const who = { starts: [opens], stop: { at: after(opens, day), handedTo: "primer" } };
    const seen = view(plan({ clock: personalClock }), who, after(opens, 2 * day));
    expect(seen.addresses.find(({ slug }) => slug === "")!.answer).toEqual({ redirect: "launch", launch: "primer" });
  });
  it("and not before that: until then it is their own launch that answers, with its countdown", () => {
    const who = { starts: [opens], stop: { at: after(opens, day), handedTo: "primer" } };
    const seen = view(plan({ clock: personalClock }), who, after(opens, day - 1));
    expect(answerAt(seen, "join")).toBe("sales");
    expect(seen.countdown).toMatchObject({ to: "closing" });
  });
  it("of whom nothing is known is kept between two bells, and made anew with a sale, a seat and a bell", () => {
    const p = plan({ settings: { seats: 2, rising: { every: 1, stepMinor: 1_000, capMinor: 19_900 } } });
    const priced = (at: Date, sold: number, taken = sold) => {
      const seen = viewOfAll(p, at, { sold, taken });
      expect(seen).toEqual(view(p, {}, at, { sold, taken }));
      return { seen, minor: seen.addresses.find(({ slug }) => slug === "join")!.price!.minor };
    };
    const [first, again, sold, taken] = [priced(opens, 0), priced(after(opens, minute), 0), priced(opens, 1), priced(opens, 1, 2)];
    expect(again.seen).toBe(first.seen);
    expect([first.minor, sold.minor]).toEqual([14_900, 15_900]);
    expect([sold.seen.seats?.left, taken.seen.seats?.left, taken.seen.soldOut]).toEqual([1, 0, true]);
    priced(closes, 1);
    priced(opens, 1);
  });
  it("leads people without an order away from the pages behind one", () => {
    expect(answerAt(view(plan(), {}, opens), "thank-you")).toBe("home");
    // An offer has a checkout of its own for who comes to it without an order, while the doors are open.
    expect(answerAt(view(plan(), {}, opens), "offer")).toBe("checkout");
    expect(answerAt(view(plan(), {}, closes), "offer")).toBe("home");
    expect(answerAt(view(plan(), { orderedAt: opens }, closes), "thank-you")).toBe("thanks");
  });
  it("lets each of several pages of a kind answer at its own address, and the first of them elsewhere", () => {
    const base = plan();
    const more = (kind: "optin" | "sales" | "closed", key: string) => ({ key, kind, slug: key, title: key, published: true });
    const several = { ...base, pages: [...base.pages, more("optin", "cold/optin"), more("sales", "cold/sales"), more("closed", "cold/closed")] };
    const before = new Date(opens.getTime() - 1_000);
    const answers = (at: Date) => ["", "cold/optin", "cold/sales", "cold/closed"].map((slug) => answerAt(view(several, {}, at), slug));
    expect(answers(before)).toEqual(["optin", "cold/optin", "optin", "cold/closed"]);
    expect(answers(opens)).toEqual(["sales", "sales", "cold/sales", "cold/closed"]);
    expect(answers(closes)).toEqual(["closed", "closed", "closed", "cold/closed"]);
  });
  it("says of each page whether it is published", () => {
    const { answer } = view(plan({ unpublished: ["sales"] }), {}, opens).addresses[0]!;
    expect(answer).toMatchObject({ page: { key: "sales", published: false } });
  });
  it("knows the price wherever a page of the launch answers, and nowhere else", () => {
    const priced = (at: Date) =>
      view(plan(), {}, at)
        .addresses.filter(({ price }) => price)
        .map(({ owner }) => owner.key);
    expect(priced(opens)).toEqual(["optin", "episodes/1", "episodes/2", "episodes/3", "sales", "checkout", "closed"]);
  });
  it("carries countdowns in the forms, on the pages and for the time that were chosen", () => {
    const countdowns = [
      {
        id: "a",
        form: "bar_bottom" as const,
        covers: { mode: "but" as const, pages: ["checkout"], folders: [] },
        to: ["closing" as const],
        fromMinutes: null,
        untilMinutes: 0,
      },
      {
        id: "b",
        form: "card" as const,
        covers: { mode: "only" as const, pages: ["sales"], folders: [] },
        to: ["closing" as const],
        fromMinutes: 60,
        untilMinutes: 10,
      },
    ];
    const forms = (at: Date, slug: string) =>
      view(plan({ settings: { countdowns } }), {}, at).addresses.find((address) => address.slug === slug)!.countdown;
    expect(forms(opens, "join")).toEqual(["bar_bottom"]);
    expect(forms(after(closes, -60 * minute), "join")).toEqual(["bar_bottom", "card"]);
    expect(forms(after(closes, -10 * minute), "join")).toEqual(["bar_bottom"]);
    expect(forms(opens, "checkout")).toEqual([]);
    expect(forms(after(opens, -1), "join")).toEqual([]);
  });
});

describe("the bells", () => {
  it("ring in order, each with a name of its own, and the next one is ahead", () => {
    expect(
      bells(plan())
        .filter(({ kind }) => kind !== "email" && kind !== "stage")
        .map(({ kind }) => kind),
    ).toEqual(["run_up", "opening", "closing", "grace_end"]);
    expect(nextBell(plan(), opens)?.label).toBe("Countdown says “Last day”");
    expect(nextBell(plan(), graceEnd(plan(), { opens, closes }))).toBeUndefined();
    fc.assert(
      fc.property(anyPlan, (p) => {
        const rings = bells(p, { starts: [around(p)] });
        expect(rings.map(({ at }) => at.getTime())).toEqual(rings.map(({ at }) => at.getTime()).sort((a, b) => a - b));
        expect(new Set(rings.map(({ key }) => key)).size).toBe(rings.length);
      }),
    );
  });
  it("keep their names when they are moved", () => {
    const moved = planFor({ clock: { kind: "fixed", runUp: "2026-11-11T18:00", opens: "2026-11-21T18:00", closes: "2026-11-28T00:00" } });
    expect(bells(moved).map(({ key }) => key)).toEqual(bells(plan()).map(({ key }) => key));
  });
  it("of a clock for each person ring for nobody in particular", () => {
    expect(bells(plan({ clock: personalClock }))).toEqual([]);
    expect(nextChange(plan({ clock: personalClock }), { starts: [opens] }, opens)?.at).toEqual(after(opens, 2 * day));
  });
  it("cut the score's lanes so that they cover the time without gap or overlap", () => {
    fc.assert(
      fc.property(
        anyPlan.chain((p) => fc.record({ p: fc.constant(p), who: anyPerson(around(p)), page: fc.constantFrom(...p.pages) })),
        ({ p, who, page }) => {
          const [from, to] = [after(around(p), -10 * day), after(around(p), 30 * day)];
          for (const spans of [answerSpans(p, { starts: who.starts }, page.slug, from, to), countdownSpans(p, { starts: who.starts }, from, to)]) {
            expect(spans[0]!.from).toEqual(from);
            expect(spans.at(-1)!.to).toEqual(to);
            for (let i = 1; i < spans.length; i += 1) {
              expect(spans[i]!.from).toEqual(spans[i - 1]!.to);
              expect(spans[i]!.is).not.toEqual(spans[i - 1]!.is);
            }
          }
        },
      ),
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
  it("say where the launch stands, for everyone or for a person", () => {
    expect(phaseWords(plan(), after(opens, -1))).toBe("Run-up, doors closed");
    expect(phaseWords(plan(), opens)).toBe("Doors open, day 1 of 7");
    expect(phaseWords(plan(), after(closes, -1))).toBe("Doors open, day 7 of 7");
    expect(phaseWords(plan(), closes)).toBe("Doors closed");
    const own = plan({ clock: personalClock });
    expect(phaseWords(own, opens)).toBe("Always on, a clock for each person");
    expect(phaseWords(own, after(opens, day), { starts: [opens] })).toBe("Their doors are open, day 2 of 3");
    expect(phaseWords(own, after(opens, 3 * day), { starts: [opens] })).toBe("Their doors are closed");
  });
});
