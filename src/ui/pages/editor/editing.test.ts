import { describe, expect, it } from "vitest";
import { builder, idsFrom, pageContent, pageOf } from "../../../core/pages";
import { newId, objections } from "./editing";

const b = builder(idsFrom("b"));

describe("what is wrong with a page that is being written", () => {
  it("is nothing, for a page that can be kept", () => {
    expect(objections(pageContent, pageOf([b.section([b.title("T"), b.columns([b.text("x")], [b.picture()])])])).size).toBe(0);
  });
  it("is told by block and field, also inside columns and lists", () => {
    const long = "x".repeat(400);
    const [title, button, badges] = [b.title(long), b.button("Go", { to: "outside", url: "javascript:x" }), b.made("badges", { items: ["", long] })];
    const page = { ...pageOf([b.section([title, b.columns([button], [badges])])]), description: long };
    expect([...objections(pageContent, page)].sort()).toEqual(
      [
        [`${title.id}.text`, "160 characters at most."],
        [`${button.id}.target`, "An address begins with https:// or http://."],
        [`${badges.id}.items`, "60 characters at most."],
        [".description", "300 characters at most."],
      ].sort(),
    );
  });
  it("is told of the page's own look as well", () => {
    const look = { theme: "letter" as const, accent: "red" as "#000000", second: "#000000" as const, type: "book" as const, logo: null };
    expect([...objections(pageContent, { ...pageOf([]), look }).values()]).toEqual(["A colour such as #A34721."]);
  });
});

describe("a new id", () => {
  it("is short, and one that a page takes", () => {
    const ids = Array.from({ length: 500 }, newId);
    expect(new Set(ids).size).toBe(500);
    expect(ids.every((id) => /^[a-z0-9-]{8}$/.test(id))).toBe(true);
  });
});
