import { expect, it } from "vitest";
import { isOwnOrigin } from "./origin";

it("an origin is the configured one: scheme, host and port", () => {
  expect(isOwnOrigin("https://shop.example", "https://shop.example/")).toBe(true);
  for (const other of [
    "http://shop.example",
    "https://shop.example:8443",
    "https://www.shop.example",
    "https://shop.example.evil.example",
    "null",
    "",
    null,
  ])
    expect(isOwnOrigin(other, "https://shop.example"), String(other)).toBe(false);
});

it("the machine's own names are one site on loopback, and there alone", () => {
  expect(isOwnOrigin("http://localhost:4310", "http://127.0.0.1:4310")).toBe(true);
  expect(isOwnOrigin("http://localhost:4311", "http://127.0.0.1:4310")).toBe(false);
  expect(isOwnOrigin("http://localhost:4310", "https://shop.example")).toBe(false);
});
