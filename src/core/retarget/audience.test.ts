import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { matches, type History } from "../conditions";
import type { EventFact } from "../events";
import { audiences } from ".";

const now = new Date("2026-11-20T12:00:00Z");
const id = "0f6b2a52-6f0d-4d3c-9d5f-0c6e3a1b2c3d";
const facts: EventFact[] = [
  { kind: "saw_sales", data: { variant: "A" } },
  { kind: "began_checkout", data: { checkout: id, product: id } },
  { kind: "paid", data: { order: id, amountMinor: 1, currency: "EUR", products: [id] } },
];
const person = (did: EventFact[]): History => ({
  launches: [],
  events: did.map((fact) => ({ ...fact, launchId: "l", page: "sales", at: now })),
  orders: [],
  tags: [],
});
const holding = (did: EventFact[]) =>
  audiences.filter(({ condition }) => matches(condition, person(did), { now, launchId: "l" })).map(({ key }) => key);

describe("the audiences", () => {
  it("hold who did one thing and not the next", () => {
    const [saw, began, paid] = facts as [EventFact, EventFact, EventFact];
    expect(holding([saw])).toEqual(["looked"]);
    expect(holding([saw, began])).toEqual(["unfinished"]);
    expect(holding([began])).toEqual(["unfinished"]);
    expect([holding([]), holding([saw, began, paid])]).toEqual([[], []]);
  });
  it("never share a person", () => {
    fc.assert(fc.property(fc.subarray(facts), (did) => void expect(holding(did).length).toBeLessThanOrEqual(1)));
  });
});
