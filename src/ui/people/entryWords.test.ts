import { describe, expect, it } from "vitest";
import { personEntry, type PersonEntry } from "../../core/people";
import { entryLine, listWords } from "./entryWords";

const at = new Date("2026-11-23T12:00:00Z");
const line = (entry: object) => entryLine(personEntry.parse({ at, launch: "Gansey", ...entry }));

describe("an entry of a person's timeline", () => {
  it("says what was done, in the money it was done in", () => {
    expect(
      line({
        is: "visits",
        pages: [
          { page: "join", n: 3 },
          { page: "", n: 1 },
        ],
      }),
    ).toMatchObject({ says: "visited /join 3 times, /", byDay: true });
    expect(line({ is: "declined", code: "insufficient_funds", minor: 14_900, currency: "EUR" }).says).toBe(
      "payment of €149.00 declined: insufficient funds",
    );
    expect(line({ is: "offer", decision: "no", product: null }).says).toBe("said no to an offer");
    expect(line({ is: "film", film: "f", quarters: 4 }).says).toBe("watched a video to the end");
    expect(line({ is: "opt_in", page: "", confirmed: false }).says).toBe("opted in on /, not confirmed");
    expect(line({ is: "email", kind: "receipt", subject: null }).says).toBe("email: Receipt");
    expect(line({ is: "clicked", link: "page sales", subject: "The doors are open" }).says).toBe(
      "clicked “page sales” in an email: The doors are open",
    );
    expect(line({ is: "returned", complaint: false, subject: null })).toMatchObject({ says: "an email could not be delivered", mark: "loss" });
  });
  it("leads to its order, and marks what was lost", () => {
    expect(line({ is: "order", order: "o1", number: 7, minor: 900, currency: "JPY" })).toMatchObject({
      href: "/desk/orders/o1",
      says: "bought: order 7, JP¥900",
    });
    const lost = ["unsubscribed", "refund"].map((is) => line({ is, order: "o1", minor: 1, currency: "EUR" }).mark);
    expect(lost).toEqual(["loss", "loss"]);
  });
  it("has words for every kind that there is", () => {
    const all: PersonEntry["is"][] = personEntry.options.map(({ shape }) => shape.is.value);
    const fields = {
      pages: [],
      partner: "S",
      page: "",
      confirmed: true,
      film: "f",
      quarters: 2,
      order: "o",
      number: 1,
      minor: 1,
      currency: "EUR",
      code: null,
      decision: "yes",
      product: "P",
      kind: "bell",
      subject: "S",
      trigger: "opt_in",
      because: "bought",
      tag: "t",
      name: "attended",
      file: "list.csv",
      link: "page sales",
      complaint: true,
      line: 2,
    };
    for (const is of all) expect([is, line({ is, ...fields }).says.length > 2]).toEqual([is, true]);
  });
  it("counts who may be written to", () => {
    expect(listWords(3_026, 2_387)).toBe("2,387 of 3,026 may be written to");
  });
});
