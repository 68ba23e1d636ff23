import { describe, expect, it } from "vitest";
import { after, day, minute, personalClock, planFor } from "../../../../tests/support/plans";
import { personKinds, readSeenAs, readSeenAt, seenAsWords, seenQuery, viewerOfKind, writeSeenAs, type SeenAs } from "..";

const opens = new Date("2026-11-20T18:00:00Z");
const closes = new Date("2026-11-27T00:00:00Z");
const since = new Date("2026-11-21T10:00:00.000Z");
const id = "0f6b2a52-6f0d-4d3c-9d5f-0c6e3a1b2c3d";

describe("the view of a screen in its address", () => {
  it("reads back as it was written, for every kind of person", () => {
    const all: SeenAs[] = [{ kind: "everyone" }, { kind: "person", id }, ...personKinds.flatMap((kind) => [{ kind }, { kind, since }])];
    for (const seen of all) expect(readSeenAs(writeSeenAs(seen))).toEqual(seen);
    expect(writeSeenAs({ kind: "everyone" })).toBeUndefined();
    expect(writeSeenAs({ kind: "buyer", since })).toBe("buyer@2026-11-21T10:00:00.000Z");
    expect(writeSeenAs({ kind: "person", id })).toBe(`person@${id}`);
  });
  it("is everyone's where it says nothing that is understood", () => {
    for (const text of [undefined, null, "", "person", "person@somebody", `people@${id}`, "owner"])
      expect(readSeenAs(text)).toEqual({ kind: "everyone" });
    expect(readSeenAs("clock@yesterday")).toEqual({ kind: "clock" });
  });
  it("is empty for now and everyone, and names the moment and the person else", () => {
    expect(seenQuery({ as: { kind: "everyone" } })).toBe("");
    expect(seenQuery({ at: since, as: { kind: "everyone" } })).toBe("at=2026-11-21T10%3A00%3A00.000Z");
    expect(seenQuery({ as: { kind: "begun" } })).toBe("as=begun");
    expect(seenQuery({ at: since, as: { kind: "new" } })).toBe("at=2026-11-21T10%3A00%3A00.000Z&as=new");
    expect(readSeenAt("2026-11-21T10:00:00Z")).toEqual(since);
    for (const text of [undefined, null, "", "soon"]) expect(readSeenAt(text)).toBeUndefined();
  });
  it("is said in words; a person by name where it is known", () => {
    const words = [{ kind: "everyone" } as const, ...personKinds.map((kind) => ({ kind }))].map((seen) => seenAsWords(seen, "Ada"));
    expect(words).toEqual(["everyone", "a new visitor", "a subscriber", "someone whose clock runs", "someone at the checkout", "a buyer"]);
    expect([seenAsWords({ kind: "person", id }, "Ada"), seenAsWords({ kind: "person", id })]).toEqual(["Ada", "one person"]);
  });
});

describe("a made-up person", () => {
  const fixed = planFor();
  const personal = planFor({ clock: personalClock });
  const at = after(opens, day);
  it("of a launch with dates is known by what they did, and by no clock of their own", () => {
    const of = (kind: (typeof personKinds)[number]) => viewerOfKind({ kind }, fixed, at);
    expect(of("new")).toEqual({});
    expect(of("subscriber")).toEqual({ subscribedAt: at, starts: undefined });
    expect(of("clock")).toEqual({ starts: undefined, subscribedAt: at });
    expect(of("buyer")).toEqual({ orderedAt: at, starts: undefined, subscribedAt: at });
    expect(viewerOfKind({ kind: "everyone" }, fixed, at)).toEqual({});
    expect(viewerOfKind({ kind: "person", id }, fixed, at)).toEqual({});
  });
  it("of an always-on one has a clock since the moment that is named, where what they did starts it", () => {
    const of = (kind: (typeof personKinds)[number], plan = personal) => viewerOfKind({ kind, since }, plan, at);
    expect(of("new")).toEqual({});
    expect(viewerOfKind({ kind: "everyone" }, personal, at)).toEqual({});
    expect(of("subscriber")).toEqual({ subscribedAt: since, starts: [since] });
    expect(of("clock")).toEqual({ starts: [since], subscribedAt: since });
    expect(of("buyer")).toEqual({ orderedAt: since, starts: [since], subscribedAt: since });
    const byVisit = planFor({ clock: { ...personalClock, trigger: { on: "first_visit" } } });
    expect(of("subscriber", byVisit)).toEqual({ subscribedAt: since, starts: undefined });
    expect(of("clock", byVisit)).toEqual({ starts: [since], subscribedAt: since });
    expect(viewerOfKind({ kind: "clock" }, personal, at).starts).toEqual([at]);
  });
  it("at the checkout began a minute ago, or in the last minute before the bell, or when it is said", () => {
    const begun = (moment: Date) => viewerOfKind({ kind: "begun" }, fixed, moment).checkoutBegunAt;
    expect(begun(at)).toEqual(after(at, -minute));
    expect(begun(after(closes, -1))).toEqual(after(closes, -1 - minute));
    expect(begun(closes)).toEqual(after(closes, -minute));
    expect(begun(after(closes, day))).toEqual(after(closes, -minute));
    expect(viewerOfKind({ kind: "begun", since }, fixed, at).checkoutBegunAt).toEqual(since);
    expect(viewerOfKind({ kind: "begun" }, personal, at)).toEqual({ starts: [at], checkoutBegunAt: after(at, -minute) });
    const over = viewerOfKind({ kind: "begun", since }, personal, after(since, 9 * day));
    expect(over).toEqual({ starts: [since], checkoutBegunAt: since });
  });
});
