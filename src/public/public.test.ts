import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { pageKinds } from "../core/launch";
import { fill, templates } from "../core/pages";
import { taxed } from "../core/offers";
import { compilePage } from "./compile";
import { after, planFor } from "../../tests/support/plans";
import { countdownBlocks } from "./countdown";
import { checkoutStartForm, offerForms, optInForm, payForm, priceBox, receipt } from "./forms";
import { Html, html } from "./html";

const now = new Date("2026-11-23T12:00:00Z");
const content = { headline: "Head", text: "Text", button: "Go" };
const compiled = (change: Partial<typeof content> = {}) =>
  compilePage({ kind: "sales", content: { ...content, ...change }, launch: { name: "L" }, vendor: "V & Co" });

describe("HTML", () => {
  it("lets no value become a tag or leave its attribute", () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom("<", ">", '"', "'", "&", "a") }), (value) => {
        const { text } = html`<i title="${value}">${value}</i>`;
        expect(text.match(/[<>]/g)).toHaveLength(4);
        expect(text.slice(10, text.indexOf('">'))).not.toMatch(/["']/);
      }),
    );
  });
  it("takes HTML as it is, lists in order, and leaves out what is not there", () => {
    expect(html`${html`<b>${"1"}</b>`}${[html`2`, "3"]}${undefined}${false}${0}`.text).toBe("<b>1</b>230");
  });
});

describe("a compiled page", () => {
  it("has every hole, in the order of the page", () => {
    for (const kind of pageKinds) {
      const page = compilePage({ kind, content: templates("P")[kind], launch: { name: "L" }, vendor: "V" });
      expect(page.holes).toEqual(["bars", "inline", "price", "notice", "form", "card"]);
      expect(page.parts).toHaveLength(7);
    }
  });
  it("opens no hole and no tag for the vendor's words", () => {
    const page = compiled({ headline: "<!--hole:form--><script>", text: "</main>" });
    expect(page.holes).toHaveLength(6);
    const body = fill(page, {});
    expect(body).toContain("&lt;!--hole:form--&gt;&lt;script&gt;");
    expect(body.match(/<\/main>/g)).toHaveLength(1);
    expect(body).toContain("V &amp; Co");
  });
  it("names one style and one script, and nothing of another site", () => {
    const body = fill(compiled(), {});
    expect(body.match(/<script/g)).toHaveLength(1);
    expect(body.match(/<style/g)).toHaveLength(1);
    expect(body).not.toMatch(/https?:\/\//);
  });
});

describe("a countdown", () => {
  const plan = planFor();
  const until = new Date(now.getTime() + 90_061_000);
  const blocks = (forms: Parameters<typeof countdownBlocks>[2]) => countdownBlocks(plan, { until, to: "closing", stage: plan.stages[0] }, forms, now);
  it("carries the server's instant, and the words for who runs no script", () => {
    const { bars } = blocks(["bar_top"]);
    expect(bars).toContain(`data-until="${until.getTime()}"`);
    expect(bars).toContain("1 d 01:01:01");
    expect(bars).toContain("Doors close Tuesday 24 November 2026 at 13:01, Lisbon time");
  });
  it("stands where its form says, with its urgent look, and knows those to come", () => {
    const all = blocks(["bar_top", "bar_bottom", "inline", "card"]);
    expect(all.bars.match(/data-until/g)).toHaveLength(2);
    expect(all.inline).toContain('class="count inline firm"');
    expect(all.card).toContain("Last day");
    expect(all.card).toContain("[[86400000,&quot;firm&quot;,&quot;Last day&quot;],[3600000,&quot;loud&quot;,&quot;Last hour&quot;]]");
    expect(blocks(["card"])).toMatchObject({ bars: "", inline: "" });
  });
  it("to an opening has no urgent looks, and none is there when nothing is to come", () => {
    expect(countdownBlocks(plan, { until, to: "opening" }, ["bar_top"], now).bars).toContain('data-stages="[]"');
    expect(countdownBlocks(plan, undefined, ["bar_top", "card"], after(now, 1))).toEqual({ bars: "", inline: "", card: "" });
  });
});

describe("the forms", () => {
  const amount = taxed(9_990, "exclusive", 800);
  const pay = {
    action: "/do/pay",
    editHref: "/c?change",
    checkout: "id",
    productName: "P",
    amount,
    currency: "EUR",
    taxMode: "exclusive" as const,
    cardFieldUrl: "http://card.example/field",
    button: "Pay",
  };
  const values = { email: "a@b.example", firstName: "Ada", country: "DE" };

  it("keep what was typed and say at the field what is wrong", () => {
    const form = optInForm("/x", "optin", "Go", "Consent", { email: "a@", firstName: "Ada" }, { email: "Not an address" }).text;
    expect(form).toContain('value="a@"');
    expect(form).toContain('aria-describedby="email-wrong"');
    expect(form).toContain('id="email-wrong">Not an address');
    expect(form).not.toContain("checked");
  });
  it("offer the countries of the tax table, with the chosen one kept", () => {
    const form = checkoutStartForm("/x", values, {}).text;
    expect(form).toMatch(/<option value="DE"\s*selected>Germany/);
    expect(form).toMatch(/autocomplete="email"/);
  });
  it("show the total before paying: 99.90 and 8 % make 107.89", () => {
    const form = payForm(pay, values, {}).text;
    expect(form).toContain("€99.90");
    expect(form).toContain("Tax, 8 %");
    expect(form).toContain("€7.99");
    expect(form).toContain("Pay · €107.89");
  });
  it("ask for no card number of their own", () => {
    const names = [...payForm(pay, values, {}).text.matchAll(/name="(\w+)"/g)].map(([, name]) => name);
    expect(names.sort()).toEqual(["card", "cardToken", "checkout", "country", "email", "firstName", "shown"]);
    expect(payForm(pay, values, {}).text).toMatch(/<iframe[^>]*name="card"/);
  });
  it("make no a button as real as yes", () => {
    const forms = offerForms({
      action: "/d",
      order: "o",
      step: "s",
      yes: "Yes, please",
      amount,
      currency: "EUR",
      productName: "P",
      last4: "0003",
    }).text;
    expect(forms.match(/<button[^>]*name="decision"/g)).toHaveLength(2);
    expect(forms).toContain("No, thank you");
    expect(forms).toContain("ending in 0003");
  });
  it("name the refund promise beside the price, and say how tax stands to it", () => {
    expect(priceBox({ minor: 14_900, currency: "EUR" }, undefined, "inclusive", "Go", "/c", 30, "Europe/Lisbon").text).toContain(
      "30 days to change your mind",
    );
    expect(priceBox({ minor: 14_900, currency: "EUR" }, { left: 3, of: 9 }, "exclusive", "Go", "/c", 30, "Europe/Lisbon").text).toContain(
      "plus the tax of your country",
    );
  });
  it("add up a receipt", () => {
    const lines = [
      { name: "A", gross: 14_900, tax: 2_786 },
      { name: "B", gross: 6_700, tax: 1_253 },
    ];
    const text = receipt({ number: 7, lines, currency: "EUR", email: "a@b.example", again: { href: "/", label: "Back" } }).text;
    expect(text).toContain("€216.00");
    expect(text).toContain("€40.39");
    expect(new Html("x").text).toBe("x");
  });
});
