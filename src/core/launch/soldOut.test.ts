import { describe, expect, it } from "vitest";
import { after, day, planFor } from "../../../tests/support/plans";
import { availability, scarcity, view, viewOfAll, type Counters, type LaunchPlan, type LaunchSettings, type Viewer } from ".";

const opens = new Date("2026-11-20T18:00:00Z");
const closes = new Date("2026-11-27T00:00:00Z");
const at = after(opens, day);
const full: Counters = { sold: 2 };
const withSeats = (soldOut?: LaunchSettings["soldOut"], unpublished: string[] = []) =>
  planFor({ settings: { seats: 2, ...(soldOut && { soldOut }) }, unpublished });
const answers = (plan: LaunchPlan, counters: Counters, who: Viewer = {}, moment = at) =>
  Object.fromEntries(
    view(plan, who, moment, counters).addresses.map(({ slug, answer }) => [slug, "redirect" in answer ? answer.redirect : answer.page.key]),
  );

describe("a launch whose seats are all taken", () => {
  it("answers with what takes addresses wherever it would sell, and with nothing else at its other addresses", () => {
    const plan = withSeats();
    expect(answers(plan, { sold: 1 })).toMatchObject({ "": "sales", join: "sales", checkout: "checkout" });
    expect(answers(plan, full)).toMatchObject({ "": "optin", join: "optin", checkout: "optin", closed: "closed" });
    expect(answers(plan, { sold: 0, taken: 2 })).toMatchObject({ join: "optin" });
  });
  it("answers with the closed page where the vendor chose that, and with the other where one is not published", () => {
    const closed = { answer: "closed", reopens: "everyone" } as const;
    expect(answers(withSeats(closed), full)["join"]).toBe("closed");
    expect(answers(withSeats(closed, ["closed"]), full)["join"]).toBe("optin");
    expect(answers(withSeats(undefined, ["optin"]), full)["join"]).toBe("closed");
    expect(answers(withSeats(undefined, ["optin", "closed"]), full)["join"]).toBe("sales");
  });
  it("counts down to nothing there, says so, and knows its price", () => {
    const seen = view(withSeats(), {}, at, full);
    expect(seen.soldOut).toBe(true);
    const join = seen.addresses.find(({ slug }) => slug === "join")!;
    expect(join).toMatchObject({ soldOut: true, countdown: [], price: { minor: 14_900 } });
    expect(seen.addresses.find(({ slug }) => slug === "closed")!.soldOut).toBeUndefined();
  });
  it("is what it was before the doors opened, and after they closed", () => {
    expect(answers(withSeats(), full, {}, after(opens, -1))["join"]).toBe("optin");
    expect(answers(withSeats({ answer: "closed", reopens: "everyone" }), full, {}, after(opens, -1))["join"]).toBe("optin");
    expect(answers(withSeats(), full, {}, closes)["join"]).toBe("closed");
  });
  it("stays open to whoever has a seat, and to nobody else", () => {
    expect(answers(withSeats(), full, { seated: true })["checkout"]).toBe("checkout");
    expect(answers(withSeats(), full, { subscribedAt: opens })["checkout"]).toBe("optin");
  });
  it("opens again with a seat that comes back: to everyone, or to the list alone", () => {
    const back: Counters = { sold: 1, soldOutOnce: true };
    const list = { answer: "waiting_list", reopens: "list" } as const;
    expect([availability(withSeats(list), back), availability(withSeats(list), { sold: 1 }), availability(withSeats(list), full)]).toEqual([
      "list_only",
      "open",
      "sold_out",
    ]);
    expect(availability(withSeats({ ...list, reopens: "everyone" }), back)).toBe("open");
    // As the vendor leaves it, a seat that comes back is open to everyone.
    expect(availability(withSeats(), back)).toBe("open");
    expect(availability(planFor(), { sold: 9, soldOutOnce: true })).toBe("open");
    expect(answers(withSeats(list), back)["join"]).toBe("optin");
    expect(answers(withSeats(list), back, { subscribedAt: opens })["join"]).toBe("sales");
    expect(answers(withSeats(list), back, { seated: true })["join"]).toBe("sales");
  });
  it("is told from one that sells in the view that a crowd shares", () => {
    const plan = withSeats();
    expect(viewOfAll(plan, at).soldOut).toBe(false);
    expect(viewOfAll(plan, at, full).soldOut).toBe(true);
    expect(viewOfAll(plan, at).soldOut).toBe(false);
    // With no bell ahead it holds for long, and still changes with the counters.
    const late = after(closes, 900 * day);
    const first = viewOfAll(plan, late);
    expect(viewOfAll(plan, after(late, 300 * day))).toBe(first);
    expect(viewOfAll(plan, after(late, -day))).not.toBe(first);
  });
  it("says in words how many seats are left, and what the price does next", () => {
    const euro = { minor: 14_900, currency: "EUR" };
    const zone = "Europe/Lisbon";
    expect(scarcity(euro, undefined, zone)).toEqual([]);
    expect(scarcity(euro, { left: 0, of: 2 }, zone)).toEqual(["All 2 seats are taken"]);
    expect(scarcity(euro, { left: 0, of: 1 }, zone)).toEqual(["The only seat is taken"]);
    expect(scarcity({ ...euro, rises: { afterSales: 1, toMinor: 15_900 } }, { left: 7, of: 9 }, zone)).toEqual([
      "7 of 9 seats left",
      "The price rises to €159.00 in 1 sale",
    ]);
    expect(scarcity({ ...euro, rises: { afterSales: 3, toMinor: 15_900 } }, undefined, zone)).toEqual(["The price rises to €159.00 in 3 sales"]);
    expect(scarcity({ ...euro, rises: { at: opens, toMinor: 15_900 } }, undefined, zone)).toEqual([
      "The price rises to €159.00 on Friday 20 November 2026 at 18:00, Lisbon time",
    ]);
  });
});
