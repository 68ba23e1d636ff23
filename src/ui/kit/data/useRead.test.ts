import { createElement } from "react";
import { renderToString } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { listFields } from "../../../contract/peopleRules";
import { useParts, useRead } from "./useRead";

type Fields = { fields: { name: string; kind: "text"; choices: string[] }[] };
const named = (name: string): Fields => ({ fields: [{ name, kind: "text", choices: [] }] });

const Read = ({ first }: { first: Fields }) => {
  const { value } = useRead(listFields, {}, { first });
  return createElement("p", null, value?.fields[0]?.name);
};
const Parts = ({ first }: { first: Fields }) => {
  const { parts } = useParts(listFields, {}, { request: {}, answer: first }, () => undefined);
  return createElement("p", null, parts[0]?.fields[0]?.name);
};

describe("what the server draws", () => {
  it("is what this request was given, whatever one before it was shown", () => {
    for (const island of [Read, Parts])
      expect(["wool", "needles"].map((name) => renderToString(createElement(island, { first: named(name) })))).toEqual([
        "<p>wool</p>",
        "<p>needles</p>",
      ]);
  });
});
