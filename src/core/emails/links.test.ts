import fc from "fast-check";
import { expect, it } from "vitest";
import { followedByMachine, linkName } from ".";

const click = (link: string, seconds: number) => ({ link, at: new Date(Date.UTC(2026, 11, 1) + seconds * 1000) });

it("calls a link by where it leads", () => {
  expect(linkName({ to: "page", page: "sales" })).toBe("page sales");
  expect(linkName({ to: "outside", url: "https://guild.example/a" })).toBe("https://guild.example/a");
  expect(linkName({ to: "checkout", over: true })).toBe("checkout");
});

it("takes a person for one, who follows a link twice, or another a while later", () => {
  expect(followedByMachine([])).toBe(false);
  expect(followedByMachine([click("a", 0), click("a", 0.2), click("a", 0.4)])).toBe(false);
  expect(followedByMachine([click("a", 0), click("b", 4), click("c", 60)])).toBe(false);
});

it("takes a program for one, which follows all links nearly at once, in whatever order they are written down", () => {
  expect(followedByMachine([click("a", 0), click("b", 1)])).toBe(true);
  expect(followedByMachine([click("c", 9), click("a", 0), click("b", 4)])).toBe(true);
  const gap = fc.integer({ min: 0, max: 9_000 });
  fc.assert(
    fc.property(fc.array(gap, { minLength: 3, maxLength: 8 }), (gaps) => {
      expect(followedByMachine(gaps.map((ms, n) => click(`link ${n}`, ms / 1000)))).toBe(true);
    }),
  );
});

it("is not swayed by clicks far from one another", () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom("a", "b", "c", "d"), { maxLength: 20 }), (links) => {
      expect(followedByMachine(links.map((link, n) => click(link, n * 11)))).toBe(false);
    }),
  );
});
