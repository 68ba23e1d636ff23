import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { distinctNames } from ".";

const names = (...things: { name: string; hint?: string }[]) => distinctNames(things, ({ hint = "" }) => hint).map(({ name }) => name);

describe("things of the same name", () => {
  it("are told apart by what differs, and by a number where nothing does", () => {
    expect(names({ name: "Spring", hint: "/spring" }, { name: "Autumn", hint: "/autumn" })).toEqual(["Spring", "Autumn"]);
    expect(names({ name: "Spring", hint: "/spring" }, { name: "Spring ", hint: "/spring-2" })).toEqual(["Spring (/spring)", "Spring (/spring-2)"]);
    expect(names({ name: "Email" }, { name: "Email" }, { name: "Email" })).toEqual(["Email", "Email (2)", "Email (3)"]);
    expect(names({ name: "Email" }, { name: "Email (2)" }, { name: "Email" })).toEqual(["Email", "Email (2)", "Email (3)"]);
  });
  it("never stay alike, keep their order, and keep a name that nobody else has", () => {
    const thing = fc.record({ name: fc.constantFrom("A", "B", "A (2)", "A (x)", "A (x) (2)", " A "), hint: fc.constantFrom("", "x", "y") });
    fc.assert(
      fc.property(fc.array(thing, { maxLength: 12 }), (things) => {
        const said = names(...things);
        expect(new Set(said).size).toBe(things.length);
        said.forEach((name, index) => {
          const own = things[index]!.name.trim();
          expect(name.startsWith(own)).toBe(true);
          if (things.filter((one) => one.name.trim() === own).length === 1 && !said.some((other, at) => at !== index && other === own))
            expect(name === own || things.some((one, at) => at !== index && name.startsWith(`${one.name.trim()} (`))).toBe(true);
        });
      }),
    );
  });
});
