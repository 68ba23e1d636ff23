import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { isNormalTarget } from "./normalPath";

describe("the address of a request", () => {
  it("is taken as pages, links and forms write it", () => {
    for (const target of [
      "/",
      "/desk",
      "/desk/",
      "/l/gansey/checkout?of=stitch%2Flite&k=a.b-c",
      "/api/desk/pages/3b2-x/draft",
      "/x/%C3%A9",
      "/a.b/c",
    ])
      expect(isNormalTarget(target), target).toBe(true);
  });
  it("is refused in every other spelling", () => {
    for (const target of [
      "//desk",
      "/\\desk",
      "/desk//money",
      "/desk/./money",
      "/l/../desk",
      "/..",
      "/l/%2e%2e/desk",
      "/%2fdesk",
      "/%5cdesk",
      "/%64esk",
      "/%44esk",
      "/desk%00",
      "/desk%0a",
      "/desk%20",
      "/desk%252fmoney",
      "/desk%",
      "/desk%zz",
      "/%ff",
      "/desk?x=%00",
      "desk",
      "*",
      "http://elsewhere.example/desk",
      "",
    ])
      expect(isNormalTarget(target), target).toBe(false);
  });
  it("means one thing only: what is taken reads the same after any decoding or resolving", () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom("/", "\\", ".", "..", "%2e", "%2F", "%5C", "%64", "%25", "desk", "l", "é", "%C3%A9", "?", "\0"), { maxLength: 8 }),
        (parts) => {
          const target = `/${parts.join("")}`;
          if (!isNormalTarget(target)) return;
          const path = target.split("?")[0]!;
          expect(new URL(`http://a.example${path}`).pathname).toBe(encodeURI(decodeURI(path)));
          const once = decodeURIComponent(path);
          expect(once).toBe(decodeURIComponent(encodeURIComponent(once)));
          expect(once.split("/").slice(1, -1)).not.toContain("");
          expect(once.split("/")).not.toContain("..");
        },
      ),
    );
  });
});
