import { describe, expect, it } from "vitest";
import { endpoints } from "../../src/contract";
import { type Endpoint, post } from "../../src/contract/endpoint";
import { answers } from "../../src/server/answers";
import { formatMoney } from "../../src/core/money";
import { answering, failureOf, Refusal, shownRefusal, wrongField } from "../../src/server/platform";
import type { APIContext } from "astro";

describe("the contract", () => {
  it("is answered endpoint by endpoint, each once, and nothing else is", () => {
    const named = (list: readonly { method: string; path: string }[]) => list.map(({ method, path }) => `${method} ${path}`).sort();
    expect(named(answers.map(({ endpoint }) => endpoint))).toEqual(named(endpoints));
  });
  it("names every refusal of an endpoint: one that it does not is answered all the same, and written to the log", async () => {
    const logged: unknown[] = [];
    const locals = { app: { clock: { now: () => new Date() }, log: { error: (of: unknown) => logged.push(of) } }, user: { role: "owner" } };
    const visit = (): APIContext =>
      ({ request: new Request("http://desk.example", { method: "POST", body: "{}" }), url: new URL("http://desk.example"), locals }) as never;
    const refusing = (endpoint: Endpoint, code: "no_lines" | "last_owner") =>
      answering(endpoint, () => Promise.reject(new Refusal({ code }))).respond(visit(), {});
    const endpoint = post("made-up", { permission: "desk.view", refusals: ["no_lines"] });
    await expect(refusing(endpoint, "no_lines")).rejects.toMatchObject({ code: "no_lines" });
    expect(logged).toEqual([]);
    await expect(refusing(endpoint, "last_owner")).rejects.toMatchObject({ code: "last_owner" });
    expect(logged).toEqual([{ endpoint: "made-up", refusal: "last_owner" }]);
  });
});

describe("a refusal", () => {
  const short = wrongField("nothing_changed", "password", { code: "too_short", least: 10 });
  const amount = wrongField("nothing_refunded", "amount", { code: "more_than_left", left: 14_900, currency: "EUR" });
  it("is shown by what is wrong with its field, where a page has one place for it", () => {
    expect(shownRefusal(short).line).toBe("10 characters at least.");
    expect(shownRefusal(new Refusal({ code: "last_owner" })).line).toMatch(/^This is the last owner\./);
    expect(() => shownRefusal(new Error("away"))).toThrow("away");
  });
  it("writes its amounts as whoever reads it does", () => {
    expect(failureOf(amount, true, "de-DE").fields?.["amount"]).toContain(formatMoney(14_900, "EUR", "de-DE"));
    expect(failureOf(amount, true).fields?.["amount"]).toContain("€149.00");
  });
});
