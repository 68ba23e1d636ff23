import { describe, expect, it } from "vitest";
import { endpoints } from "../../src/contract";
import { answers } from "../../src/server/answers";

describe("the contract", () => {
  it("is answered endpoint by endpoint, each once, and nothing else is", () => {
    const named = (list: readonly { method: string; path: string }[]) => list.map(({ method, path }) => `${method} ${path}`).sort();
    expect(named(answers.map(({ endpoint }) => endpoint))).toEqual(named(endpoints));
  });
});
