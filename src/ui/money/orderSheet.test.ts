import { describe, expect, it } from "vitest";
import { orderSheet } from "./orderSheet";

const at = (time: string) => new Date(`2026-11-23T${time}:00Z`);
type Facts = Parameters<typeof orderSheet>[0];
const line = {
  id: "l1",
  role: "front" as const,
  name: "The Gansey Workshop",
  contents: [],
  discountMinor: 0,
  netMinor: 12_521,
  taxMinor: 2_379,
  grossMinor: 14_900,
  rateBp: 1900,
};
const facts = (change: Partial<Facts["order"]> = {}, more: Partial<Facts> = {}): Facts => ({
  zone: "Europe/Berlin",
  order: {
    currency: "EUR",
    country: "DE",
    source: "own",
    evidence: [
      { kind: "billing", country: "DE" },
      { kind: "card", country: "DE" },
    ],
    reverseCharge: false,
    credit: { rule: "last_touch", windowDays: 1, decidedAt: at("12:00").toISOString(), touches: [] },
    ...change,
  },
  lines: [line],
  charges: [],
  refunds: [],
  disputes: [],
  postings: [],
  commissions: [],
  ...more,
});

describe("an order on its screen", () => {
  it("lists what was bought before what was added, with tax at its rate", () => {
    const sheet = orderSheet(facts({}, { lines: [{ ...line, id: "l2", role: "offer", name: "Stitch Library" }, line] }));
    expect(sheet.lines.map(({ id, role }) => [id, role])).toEqual([
      ["l1", "main product"],
      ["l2", "one-time offer"],
    ]);
    expect(sheet.lines[0]).toMatchObject({ net: "€125.21", tax: "€23.79 at 19 %", gross: "€149.00", discount: "" });
  });
  it("has refunds and disputes in the order in which they came", () => {
    const { givenBack } = orderSheet(
      facts(
        {},
        {
          refunds: [{ id: "r", askedAt: at("15:00"), state: "succeeded", reason: "changed their mind", amountMinor: 500 }],
          disputes: [{ id: "d", openedAt: at("14:00"), state: "lost", reason: "not_received", amountMinor: 900 }],
        },
      ),
    );
    expect(givenBack.map(({ what, why, amount }) => [what, why, amount])).toEqual([
      ["dispute, lost", "not received", "€9.00"],
      ["refund, succeeded", "changed their mind", "€5.00"],
    ]);
  });
  it("puts each posting on its side of the ledger", () => {
    const posting = { journal: "j", kind: "sale", line: "Gansey", account: "sales", partner: null };
    const { postings } = orderSheet(
      facts(
        {},
        {
          postings: [
            { ...posting, minor: -12_521 },
            { ...posting, account: "partner_payable", partner: "Skerry", minor: 500 },
          ],
        },
      ),
    );
    expect(postings.map(({ account, debit, credit }) => [account, debit, credit])).toEqual([
      ["Sales", "", "€125.21"],
      ["Payable to partners: Skerry", "€5.00", ""],
    ]);
    expect(new Set(postings.map(({ key }) => key)).size).toBe(2);
  });
  it("explains who is credited, and why the others are not", () => {
    const touch = { id: "t", partnerId: "p", at: at("10:00").toISOString() };
    const touches = [
      { ...touch, partnerName: "Skerry", credited: false, rejected: "replaced_by_later" as const },
      { ...touch, partnerName: "Haar", credited: true },
    ];
    const sheet = orderSheet(facts({ credit: { rule: "last_touch", windowDays: 30, decidedAt: "", partnerName: "Haar", touches } }));
    expect(sheet.credit).toEqual({ partner: "Haar", rule: "last touch", because: " within 30 days before the order." });
    expect(sheet.touches.map(({ says }) => says)).toEqual(["not credited: a later touch replaced it", "credited"]);
    const coupon = { id: "c", code: "HAAR10", partnerId: "p", partnerName: "Haar" };
    const byCode = orderSheet(
      facts({ credit: { rule: "coupon", windowDays: 30, decidedAt: "", partnerName: "Haar", touches: [], coupon: { ...coupon, credited: true } } }),
    );
    expect(byCode.credit).toMatchObject({ rule: "partner's coupon", because: ": the order used HAAR10, which outranks links." });
    const own = orderSheet(
      facts({ credit: { rule: "last_touch", windowDays: 1, decidedAt: "", touches: [], coupon: { ...coupon, credited: false } } }),
    );
    expect(own.credit.because).toBe(" within 1 day before the order. The code HAAR10 is the buyer's own and earns nothing.");
  });
  it("says until when a commission is pending, and what of it was reversed", () => {
    const commission = { line: "Gansey", rule: "featured_day" as const, rateBp: 5000, minor: 6_261, reversedMinor: 100, pendingUntil: at("10:00") };
    expect(orderSheet(facts({}, { commissions: [commission] })).commissions).toEqual([
      "€62.61 on Gansey, 50 % of its net, the rate of a featured day. Pending until Mon 23 Nov, 11:00: the refund window and five days. €1.00 of it was reversed with what the buyer got back.",
    ]);
  });
  it("says when the evidence of the buyer's country is thin, and who accounts for the tax", () => {
    expect(orderSheet(facts()).evidenceSays).toMatch(/^Two pieces of evidence agree/);
    expect(orderSheet(facts({ evidence: [{ kind: "card", country: "FR" }], reverseCharge: true, vatNumber: "DE123456788" })).evidenceSays).toBe(
      "Fewer than two pieces of evidence agree on this country. Reverse charge: DE123456788 accounts for the tax.",
    );
  });
  it("shows what was said of an order by hand without the id behind it", () => {
    const externalId = "market stall (0b7c9a52-3d7e-4f5f-9f0e-2a6d0c1b2a3c)";
    expect(orderSheet(facts({ source: "hand", externalId })).enteredAs).toBe("market stall");
    expect(orderSheet(facts()).enteredAs).toBeUndefined();
  });
});
