import { describe, expect, it } from "vitest";
import { eventData, readEvent, stages } from ".";

const id = "0f6b2a52-6f0d-4d3c-9d5f-0c6e3a1b2c3d";

describe("an event", () => {
  it("is read with the data that its kind asks for, and with no others", () => {
    const paid = { order: id, amountMinor: 14_900, currency: "EUR", products: [id] };
    expect(readEvent("paid", { ...paid, card: "4000" })).toEqual({ kind: "paid", data: paid });
    expect(readEvent("visited", { variant: "B", source: "guild" })).toEqual({ kind: "visited", data: { variant: "B", source: "guild" } });
    for (const wrong of [{}, { variant: "E" }, { variant: "A", source: "x".repeat(81) }, null]) expect(readEvent("saw_sales", wrong)).toBeUndefined();
    for (const wrong of [
      { ...paid, amountMinor: 1.5 },
      { ...paid, amountMinor: -1 },
      { ...paid, products: [] },
      { ...paid, currency: "EURO" },
    ])
      expect(readEvent("paid", wrong)).toBeUndefined();
  });
  it("of a kind that is not known here is passed over, whatever its name", () => {
    for (const kind of ["read_mind", "", "toString", "__proto__"]) expect(readEvent(kind, { variant: "A" })).toBeUndefined();
  });
  it("of every stage has its data", () => {
    expect(stages.every((stage) => stage in eventData)).toBe(true);
  });
});
