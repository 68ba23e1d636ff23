import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { builder, idsFrom, type Block, type Media } from "../../pages";
import { sourceFor } from "../../../../tests/support/plans";
import {
  bellEmail,
  brokenFields,
  emailContent,
  emailGaps,
  emailKindNames,
  isHung,
  fieldText,
  fillFields,
  mergeFieldNames,
  receiptSentences,
  sharedFields,
  textFromBlocks,
  textParts,
  usualBellEmails,
  usualEmail,
  type EmailContent,
  type EmailGapFacts,
} from "..";

describe("a field in a text", () => {
  it("is filled with its value, or with what was written for whoever has none", () => {
    const text = "Hello {first name, else friend}, the price is {price}.";
    expect(fillFields(text, { "first name": "Runa", price: "€149.00" })).toBe("Hello Runa, the price is €149.00.");
    expect(fillFields(text, {})).toBe("Hello friend, the price is .");
    expect(sharedFields("{launch} for {first name}", { launch: "Gansey" })).toBe("Gansey for …");
  });
  it("stays as it was typed where there is none of the name, and is named as broken", () => {
    expect(fillFields("{frist name} {}", { "first name": "Runa" })).toBe("{frist name} {}");
    expect(brokenFields("{frist name}, {first name} and {price")).toEqual(["{frist name}", "{price"]);
    expect(brokenFields("None of it.")).toEqual([]);
  });
  it("survives any words around it, and a value is never read as a field itself", () => {
    const words = fc.string().map((text) => text.replaceAll(/[{}]/g, ""));
    const otherwise = words.map((text) => text.trim());
    fc.assert(
      fc.property(words, words, otherwise, fc.constantFrom(...mergeFieldNames), (before, after, other, field) => {
        const text = `${before}${fieldText(field, other)}${after}`;
        expect(fillFields(text, { [field]: "{launch}" })).toBe(`${before}{launch}${after}`);
        expect(fillFields(text, {})).toBe(`${before}${other}${after}`);
        expect(brokenFields(text)).toEqual([]);
        expect(textParts(text).filter((part) => typeof part !== "string")).toHaveLength(1);
      }),
    );
  });
});

const b = builder(idsFrom("e"));
const written = (blocks: Block[], change: Partial<EmailContent> = {}): EmailContent => ({
  subject: "Tonight",
  preheader: "",
  sections: [b.section(blocks)],
  text: null,
  ...change,
});
const { pages, slug } = sourceFor({ unpublished: ["sales"] });
const facts: EmailGapFacts = { kind: "bell", source: { slug, pages }, origin: "https://shop.example", bells: ["18:00", "00:00"], media: [] };
const codes = (content: EmailContent, change: Partial<EmailGapFacts> = {}) =>
  emailGaps(content, { ...facts, ...change }).map(({ code, blocking }) => (blocking ? `${code}!` : code));

describe("what an email lacks", () => {
  it("is nothing, for the words that the program writes by itself", () => {
    for (const kind of emailKindNames) {
      const content = isHung(kind) ? bellEmail("Tonight", "The doors close.") : usualEmail(kind);
      expect(emailContent.parse(content)).toEqual(content);
      expect(codes(content, { kind }), kind).toEqual([]);
    }
    for (const content of Object.values(usualBellEmails(["episode-1", "doors-open", "last-day", "last-hour"]))) expect(codes(content)).toEqual([]);
  });
  it("is a subject and words", () => {
    expect(codes(written([], { subject: " " }))).toEqual(["no_subject!", "no_words!"]);
  });
  it("is a field that is none, or that may be empty", () => {
    expect(codes(written([b.text("Until {deadline}.")]))).toEqual([]);
    expect(codes(written([b.text("Until {deadline}.")]), { kind: "welcome" })).toEqual(["field_may_be_empty"]);
    expect(codes(written([b.text("Dear {frist name}, {first name}")]))).toEqual(["broken_field!", "field_may_be_empty"]);
    expect(codes(written([b.text("Tonight.")], { subject: "{price", preheader: "{partner}" }))).toEqual(["broken_field!", "field_may_be_empty"]);
    expect(codes(written([b.text("Tonight.")], { text: "{lnik}" }))).toEqual(["broken_field!"]);
  });
  it("is a time of day that no bell rings at, or any time where everybody has a deadline of their own", () => {
    const late = written([b.text("The doors close at 00:59.")]);
    expect(codes(late)).toEqual(["typed_time"]);
    expect(codes(written([b.text("The doors close at 0:00, and opened at 18:00.")]))).toEqual([]);
    expect(codes(written([b.text("The doors close at 00:00.")]), { bells: [] })).toEqual(["typed_time"]);
  });
  it("is a button that leads to nothing, or to a page that nobody can read yet", () => {
    const to = (page: string) => written([b.text("Look."), b.button("Look", { to: "page", page })]);
    expect(codes(to("gone"))).toEqual(["dead_button!"]);
    expect(codes(to("sales"))).toEqual(["unpublished"]);
    expect(codes(to("optin"))).toEqual([]);
    expect(codes(written([b.text("Look."), b.button("Look", { to: "form", block: "f" })]))).toEqual(["dead_button!"]);
    expect(codes(written([b.text("Look."), b.button("Look", { to: "checkout", over: false })]), { source: { slug, pages: [] } })).toEqual([
      "dead_button!",
    ]);
  });
  it("is a link of ours in the text that leads to nothing; others are not judged", () => {
    const linked = (href: string) =>
      written([
        b.made("text", {
          rich: {
            type: "doc",
            content: [{ type: "paragraph", content: [{ type: "text", text: "here", marks: [{ type: "link", attrs: { href } }] }] }],
          },
        }),
      ]);
    expect(codes(linked("https://shop.example/l/gansey/nowhere"))).toEqual(["dead_link!"]);
    for (const sound of ["https://shop.example/l/gansey", "https://shop.example/l/gansey/checkout", "https://other.example/l/gansey/nowhere"])
      expect(codes(linked(sound)), sound).toEqual([]);
  });
  it("is what an email of its kind is for", () => {
    expect(codes(written([b.text("Look into your inbox.")]), { kind: "confirm" })).toEqual(["no_way_on!"]);
    expect(codes(written([b.text("Thank you.")]), { kind: "receipt" })).toEqual(["no_receipt!"]);
    expect(codes(written([b.text("Thank you."), b.made("receipt", {})]))).toEqual(["wrong_email!"]);
  });
  it("is a picture without words, and one that is slow on a phone", () => {
    const media = [{ id: "2d1f7a54-8a4e-4f0e-9d0c-3f2f4b1a6c11", bytes: 900_000 } as Media];
    const shown = written([b.text("Look."), b.picture({ decorative: false, media: media[0]!.id })]);
    expect(codes(shown, { media })).toEqual(["empty", "heavy_picture"]);
  });
});

describe("an email's words", () => {
  it("take only blocks that one column can show, each with an id of its own", () => {
    const two = b.text("x");
    for (const wrong of [[b.columns([b.text("x")], [b.text("y")])], [b.form("Go")], [two, two]])
      expect(emailContent.safeParse(written(wrong)).success).toBe(false);
  });
  it("begin a plain-text part by hand, with their fields", () => {
    const content = written([b.title("Tonight."), b.text("Hello {first name, else there},\n\nlook."), b.benefits(["One", "Two"]), b.button("Go")]);
    expect(textFromBlocks(content)).toBe("Tonight.\n\nHello {first name, else there},\n\nlook.\n\n- One\n- Two\n\nGo: {link}");
  });
});

describe("a receipt in sentences", () => {
  const plain = { number: "1001", lines: [{ name: "Course", gross: "€149.00", tax: "€27.86" }], total: "€149.00", tax: "€27.86", taxName: "VAT" };
  it("names every line with its tax, and the sum", () => {
    const { lines, total, notes } = receiptSentences(plain);
    expect(lines).toEqual(["Course: €149.00, incl. VAT €27.86"]);
    expect(total).toBe("Paid €149.00, incl. VAT €27.86. Order 1001.");
    expect(notes).toEqual([]);
  });
  it("says what is only authorized, what a code took off, what comes later, who accounts for the tax, and that it is a test", () => {
    const { total, notes } = receiptSentences({
      ...plain,
      authorized: "€49.00",
      code: { name: "WOOL", discount: "€10.00" },
      recurring: ["€12.00 a month from 1 January."],
      vatNumber: "DE123456788",
      test: true,
    });
    expect(total).toMatch(/^Total /);
    expect(notes.join(" ")).toContain("nothing was charged");
    for (const part of ["€49.00 of it: authorized", "code WOOL", "a month from", "DE123456788 accounts for the tax"])
      expect(notes.join(" ")).toContain(part);
  });
});
