import { feeOf } from "../card-desk/state";
import { amountText } from "./money";
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { Webhook } from "standardwebhooks";
import { describe, expect, it } from "vitest";
import { luhn, testCards } from "./cards";
import { makeNotice, signedHeaders } from "./notices";
import { Store } from "./store";

const secret = "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw";

describe("signed notices", () => {
  it("carry the signature of the Standard Webhooks specification's published example", () => {
    const headers = signedHeaders(secret, "msg_p5jXN8AQM9LWM0D4loKWxJek", 1_614_265_330, '{"test": 2432232314}');
    expect(headers["webhook-signature"]).toBe("v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=");
  });
  it("are verified by the specification's own library, and its signatures are ours", () => {
    fc.assert(
      fc.property(fc.json(), fc.uint8Array({ minLength: 24, maxLength: 64 }), (body, key) => {
        const own = `whsec_${Buffer.from(key).toString("base64")}`;
        const now = Math.floor(Date.now() / 1000);
        const headers = signedHeaders(own, "msg_1", now, body);
        expect(new Webhook(own).verify(body, headers)).toEqual(JSON.parse(body));
        expect(new Webhook(own).sign("msg_1", new Date(now * 1000), body)).toBe(headers["webhook-signature"]);
      }),
    );
  });
  it("are refused when a byte of them changes", () => {
    const now = Math.floor(Date.now() / 1000);
    const headers = signedHeaders(secret, "msg_1", now, '{"a":1}');
    expect(() => new Webhook(secret).verify('{"a":2}', headers)).toThrow();
    expect(() => new Webhook(secret).verify('{"a":1}', { ...headers, "webhook-id": "msg_2" })).toThrow();
  });
  it("have an id of their own each", () => {
    expect(makeNotice("x", {}).id).not.toBe(makeNotice("x", {}).id);
  });
});

describe("card numbers", () => {
  it("pass the check of ISO/IEC 7812-1 as the textbook number does", () => {
    expect(luhn("79927398713")).toBe(true);
    for (let digit = 0; digit < 10; digit += 1) expect(luhn(`7992739871${digit}`)).toBe(digit === 3);
  });
  it("of the test cards are all valid and all different", () => {
    for (const { number } of testCards) expect(luhn(number)).toBe(true);
    expect(new Set(testCards.map(({ number }) => number)).size).toBe(testCards.length);
  });
  it("with one digit wrong are always refused", () => {
    fc.assert(
      fc.property(fc.constantFrom(...testCards), fc.nat(15), fc.integer({ min: 1, max: 9 }), ({ number }, place, by) => {
        const digits = [...number];
        digits[place] = String((Number(digits[place]) + by) % 10);
        expect(luhn(digits.join(""))).toBe(false);
      }),
    );
  });
});

describe("a stand-in's memory", () => {
  it("is there again after a restart, and a broken file is an empty one", () => {
    const file = join(mkdtempSync(join(tmpdir(), "store-")), "state.json");
    const store = new Store(file, { list: [] as number[] });
    store.state.list.push(1, 2);
    store.save();
    expect(new Store(file, { list: [] as number[] }).state.list).toEqual([1, 2]);
    expect(JSON.parse(readFileSync(file, "utf8"))).toEqual({ list: [1, 2] });
    expect(new Store(`${file}.other`, { list: [7] }).state.list).toEqual([7]);
  });
});

describe("amounts", () => {
  it("are shown and charged in the minor units of their currency", () => {
    expect([amountText(14_900, "EUR"), amountText(1_500, "JPY"), amountText(1_234, "KWD")]).toEqual(["149.00 EUR", "1500 JPY", "1.234 KWD"]);
    expect([feeOf(14_900, "EUR"), feeOf(15_000, "JPY"), feeOf(100_000, "KWD"), feeOf(0, "EUR"), feeOf(10, "EUR")]).toEqual([249, 255, 1_575, 0, 10]);
  });
});
