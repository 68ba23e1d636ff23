import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  drawnLaunch,
  plannedPages,
  newLaunchRequest,
  planNewLaunch,
  planOf,
  settingFaults,
  slugOf,
  view,
  type LaunchShape,
  type NewLaunchRequest,
} from "..";

const request = newLaunchRequest.parse({
  name: "Spring",
  zone: "Europe/Lisbon",
  opensWall: "2026-12-01T10:00",
  closesWall: "2026-12-06T20:00",
  productName: "A course",
  price: "149.00",
  currency: "EUR",
  taxMode: "inclusive",
});
const planned = (change: Partial<NewLaunchRequest> = {}) => planNewLaunch({ ...request, ...change });
const faultsOf = (change: Partial<NewLaunchRequest>) => {
  const answer = planned(change);
  return "faults" in answer ? answer.faults : {};
};

describe("a new launch", () => {
  it("is planned from good answers", () => {
    const answer = planned();
    expect(answer).toMatchObject({
      plan: { priceMinor: 14_900, remarks: [], settings: { clock: { kind: "fixed", runUp: "2026-11-24T10:00", opens: "2026-12-01T10:00" } } },
    });
  });
  it("can be drawn as soon as its time is known, and is then the launch that is started", () => {
    expect(drawnLaunch({ ...request, closesWall: "" })).toBeUndefined();
    expect(drawnLaunch({ ...request, closesWall: request.opensWall })).toBeUndefined();
    expect(drawnLaunch({ ...request, zone: "Europe/Nowhere" })).toBeUndefined();
    const empty = drawnLaunch({ ...request, name: "", productName: "", price: "a lot" })!;
    expect(empty).toMatchObject({ name: "Your launch", slug: "your-launch", price: { minor: 0 } });
    expect(settingFaults(empty)).toEqual({});
    for (const shape of ["full", "short", "list"] as const)
      for (const clock of ["fixed", "recurring", "personal"] as const) {
        const answer = planned({ shape, clock });
        const drawn = drawnLaunch({ ...request, shape, clock })!;
        expect("plan" in answer && answer.plan.settings).toEqual(drawn.settings);
        expect(drawn.pages.map(({ slug }) => slug)).toEqual("plan" in answer && answer.plan.pages.map(({ slug }) => slug));
        expect(drawn.price.minor).toBe(shape === "list" ? 0 : 14_900);
      }
  });
  it("of any shape and clock is laid out so that nothing objects, and every address answers", () => {
    for (const shape of ["full", "short", "list"] as const satisfies LaunchShape[])
      for (const clock of ["fixed", "recurring", "personal"] as const) {
        const answer = planned({ shape, clock });
        if (!("plan" in answer)) throw new Error(`${shape} ${clock}: ${JSON.stringify(answer.faults)}`);
        const { settings, pages } = answer.plan;
        const source = {
          slug: "s",
          name: "Spring",
          zone: request.zone,
          shape,
          settings,
          pages: pages.map((page) => ({ ...page, title: "", published: true })),
          subjects: {},
          price: { minor: 14_900, currency: "EUR" },
        };
        expect(settingFaults(source)).toEqual({});
        const seen = view(planOf(source), {}, new Date("2026-12-02T12:00:00Z"));
        expect(seen.addresses.map(({ slug }) => slug)).toContain("");
        expect(seen.phase).toBe(clock === "personal" ? "before" : "during");
      }
  });
  it("has the pages of its shape, at addresses of their own", () => {
    const kinds = (shape: LaunchShape) => plannedPages(shape).map(({ kind }) => kind);
    expect(kinds("list")).toEqual(["optin", "closed"]);
    expect(kinds("full").filter((kind) => kind === "content")).toHaveLength(3);
    for (const shape of ["full", "short", "list"] as const)
      expect(new Set(plannedPages(shape).map(({ slug }) => slug)).size).toBe(plannedPages(shape).length);
    expect(plannedPages("short").find(({ slug }) => slug === "")!.kind).toBe("sales");
  });
  it("may not close before or at its opening", () => {
    expect(faultsOf({ closesWall: "2026-11-30T10:00" }).closesWall).toEqual({ code: "closes_first" });
    expect(faultsOf({ closesWall: request.opensWall }).closesWall).toEqual({ code: "closes_first" });
  });
  it("is judged by instants, not by wall times: in an overlap the same wall time may not serve as both", () => {
    expect(faultsOf({ zone: "Europe/Berlin", opensWall: "2026-10-25T02:30", closesWall: "2026-10-25T02:15" }).closesWall).toBeDefined();
  });
  it("may not open again before it has closed, and gives each person some time", () => {
    expect(faultsOf({ clock: "recurring", openHours: 169 }).openHours).toMatchObject({ refusal: { code: "windows_overlap" } });
    expect(Object.keys(faultsOf({ clock: "personal", personHours: 0 }))).toEqual(["personHours"]);
    expect(Object.keys(faultsOf({ clock: "personal", personUntil: "25:00" }))).toEqual(["personUntil"]);
    expect(planned({ clock: "personal", personUntil: "20:00" })).toMatchObject({
      plan: { settings: { clock: { length: { kind: "until", time: "20:00" } } } },
    });
  });
  it("says what DST bends", () => {
    expect(planned({ zone: "Europe/Berlin", opensWall: "2026-03-29T02:30", closesWall: "2026-04-02T10:00" })).toMatchObject({
      plan: { remarks: [expect.stringContaining("becomes 03:30")] },
    });
  });
  it("needs a zone, two times, a price and a currency that exist", () => {
    expect(Object.keys(faultsOf({ zone: "Mars/Olympus" }))).toEqual(["zone"]);
    expect(Object.keys(faultsOf({ opensWall: "" }))).toEqual(["opensWall"]);
    expect(Object.keys(faultsOf({ price: "free" }))).toEqual(["price"]);
    expect(Object.keys(faultsOf({ price: "0.00" }))).toEqual(["price"]);
    expect(Object.keys(faultsOf({ price: "1.5", currency: "JPY" }))).toEqual(["price"]);
    expect(Object.keys(faultsOf({ currency: "XXX" }))).toEqual(["currency"]);
  });
  it("gets an address of plain letters", () => {
    expect(slugOf("Çà va: L'été à 100 %!")).toBe("ca-va-l-ete-a-100");
    expect([slugOf("Łódź"), slugOf("Пряжа и спицы"), slugOf("Straße"), slugOf("毛糸")]).toEqual(["lodz", "pryazha-i-spicy", "strasse", "mao-mi"]);
    expect([slugOf("  —  "), slugOf("???")]).toEqual(["", ""]);
    fc.assert(fc.property(fc.string(), (name) => void expect(slugOf(name)).toMatch(/^([a-z0-9]([a-z0-9-]{0,58}[a-z0-9])?)?$/)));
  });
  it("says all that is wrong at once, each at its field", () => {
    const wrong = newLaunchRequest.parse({
      ...request,
      name: "???",
      zone: "Europe/Lisbon",
      opensWall: "2026-12-06T20:00",
      closesWall: "2026-12-01T10:00",
      productName: " ",
      price: "1.000",
      currency: "EUR",
    });
    const answer = planNewLaunch(wrong);
    expect("faults" in answer && Object.keys(answer.faults).sort()).toEqual(["closesWall", "name", "price", "productName"]);
    const empty = planNewLaunch(newLaunchRequest.parse({ ...request, name: "", price: "", clock: "recurring", openHours: "many" }));
    expect("faults" in empty && Object.keys(empty.faults).sort()).toEqual(["name", "openHours", "price"]);
  });
  it("that only collects addresses asks for no product and no price", () => {
    const answer = planned({ shape: "list", productName: "", price: "" });
    expect(answer).toMatchObject({ plan: { priceMinor: 0 } });
    expect(faultsOf({ productName: "", price: "" })).toMatchObject({
      productName: { code: "product_name_missing" },
      price: { code: "amount", refusal: { code: "not_an_amount" } },
    });
  });
});
