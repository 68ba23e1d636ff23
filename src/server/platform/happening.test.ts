import { describe, expect, it } from "vitest";
import type { EntityManager } from "../../store/orm";
import { Happening } from "./happening";

const work = (key: string) => ({ topic: "settle_charge", payload: { id: key }, key, due_at: new Date(0) });

describe("something that others react to", () => {
  it("is written with the rows of all of them, and does what they do afterwards in their order", async () => {
    const done: string[] = [];
    const later = (name: string) => () => Promise.resolve(done.push(name));
    const sold = new Happening<{ n: number }>("a sale");
    sold.subscribe(
      ({ n }) => ({ rows: { outbox: [work(`first ${n}`)] }, then: later("first") }),
      () => ({}),
      () => ({ rows: { outbox: [work("third")] } }),
      () => ({ then: later("fourth") }),
    );
    const { rows, then } = sold.reactionTo({ n: 7 });
    expect(rows.outbox!.map(({ key }) => key)).toEqual(["first 7", "third"]);
    expect(done).toEqual([]);
    await then!({} as EntityManager);
    expect(done).toEqual(["first", "fourth"]);
  });
  it("needs no transaction where nobody does anything afterwards", () => {
    const sold = new Happening<object>("a sale");
    sold.subscribe(() => ({ rows: { outbox: [work("only")] } }));
    expect(sold.reactionTo({}).then).toBeUndefined();
  });
  it("is refused in a process in which nobody was asked to react", () => {
    expect(() => new Happening<object>("a sale").reactionTo({})).toThrow('Nobody reacts to "a sale"');
  });
});
