import { describe, expect, it } from "vitest";
import { accessEnds, type OwnedProduct } from "../../core/delivery";
import { buyerWords, statusWords, viaWords } from "./accessWords";

const at = new Date("2026-12-02T10:00:00Z");
const order = { kind: "order" as const, id: "o", number: 1252, authorized: false, test: false };
const owned = (change: Partial<OwnedProduct> = {}): OwnedProduct => ({
  id: "p",
  product: "The Gansey Workshop",
  open: true,
  until: null,
  whilePaid: false,
  late: false,
  because: null,
  via: order,
  log: [{ at, open: true, because: null, via: order }],
  ...change,
});

describe("what is said of a product", () => {
  it("is whether it is open, and until when", () => {
    expect(statusWords(owned(), "Europe/Lisbon")).toBe("Open for good.");
    expect(statusWords(owned({ until: at }), "Europe/Lisbon")).toBe("Open until Wed 2 Dec, 10:00.");
    expect(statusWords(owned({ until: at, whilePaid: true }), "Europe/Lisbon")).toBe("Open as long as payments go on.");
    expect(statusWords(owned({ until: at, whilePaid: true, late: true }), "Europe/Lisbon")).toContain("late: open until Wed 2 Dec");
    expect([order, { ...order, authorized: true }, { ...order, test: true }].map(viaWords)).toEqual([
      "order 1252",
      "order 1252, authorized",
      "test order",
    ]);
  });
  it("names for every end why, when, and to the buyer what can be done", () => {
    for (const because of accessEnds) {
      const closed = owned({ open: false, because, log: [{ at, open: false, because, via: order }] });
      expect(statusWords(closed, "Europe/Lisbon")).toMatch(/^Closed Wed 2 Dec, 10:00: .{10,}\.$/);
      expect(buyerWords(closed, "Europe/Lisbon", "post@marram.example")).toContain("Wed 2 Dec");
    }
    for (const because of ["refunded", "disputed", "unpaid", "grant_revoked"] as const)
      expect(buyerWords(owned({ open: false, because }), "Europe/Lisbon", "post@marram.example")).toContain("post@marram.example");
    expect(buyerWords(owned(), "Europe/Lisbon", "")).toBe("");
    // The desk reads why access was revoked; the buyer does not.
    const via = { kind: "grant" as const, id: "g", reason: "a gift", revokedBecause: "Given by mistake" };
    const revoked = owned({ open: false, because: "grant_revoked", via });
    expect(statusWords(revoked, "Europe/Lisbon")).toContain("it was revoked: Given by mistake.");
    expect(buyerWords(revoked, "Europe/Lisbon", "post@marram.example")).not.toContain("mistake");
  });
});
