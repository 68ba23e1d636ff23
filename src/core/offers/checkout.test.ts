import { describe, expect, it } from "vitest";
import { amountShown, checkoutStart, commissionToReverse, normaliseCode, regionName, waitsForFulfilment } from ".";

describe("a checkout", () => {
  const typed = { email: " Ada@Wool.example ", firstName: "Ada", country: "DE" };

  it("takes a VAT number of its own country, and refuses another at its field", () => {
    // A number that is published as an example of the German check digit; value from memory.
    expect(checkoutStart.parse({ ...typed, vatNumber: "DE 136 695 976" })).toMatchObject({ email: "ada@wool.example", vatNumber: "DE136695976" });
    for (const vatNumber of ["DE136695977", "PT136695976", "x"]) {
      const { error } = checkoutStart.safeParse({ ...typed, vatNumber });
      expect(error!.issues.map(({ path }) => path.join("."))).toEqual(["vatNumber"]);
    }
    expect(checkoutStart.parse(typed).vatNumber).toBeUndefined();
    expect(checkoutStart.safeParse({ ...typed, vatNumber: "1".repeat(21) }).success).toBe(false);
  });
  it("reads a code however it is typed", () => expect(normaliseCode("  spring-25 ")).toBe("SPRING-25"));
  it("names the regions that have rates of their own, and any other by its code", () => {
    expect([regionName("PT", "30"), regionName("PT", "11"), regionName("US", "30")]).toEqual(["Madeira", "11", "30"]);
  });
  it("shows prices with their tax or without it, as the product has them", () => {
    const amount = { gross: 10_789, net: 9_990, tax: 799, rateBp: 800 };
    expect([amountShown(amount, "inclusive"), amountShown(amount, "exclusive")]).toEqual([10_789, 9_990]);
  });
  it("only holds the money of goods that are charged when they are sent", () => {
    const waits = (kind: "shipped" | "download", chargeWhen: "at_once" | "when_sent") => waitsForFulfilment({ kind, chargeWhen });
    expect([waits("shipped", "when_sent"), waits("shipped", "at_once"), waits("download", "when_sent")]).toEqual([true, false, false]);
  });
});

describe("a commission", () => {
  it("on a line without net is taken back whole, whatever was taken back before", () => {
    expect([commissionToReverse(400, 0, 0, 0), commissionToReverse(400, 150, 0, 0)]).toEqual([400, 250]);
    expect([commissionToReverse(400, 100, 1_000, 500), commissionToReverse(400, 100, 1_000, 2_000)]).toEqual([100, 300]);
  });
});
