import { describe, expect, it } from "vitest";
import { bellEmail, plainEmail, usualEmail, type EmailContent, type EmailFacts } from "../../core/emails";
import { builder, contrast, idsFrom, paletteOf, standardLook, themes, type Media } from "../../core/pages";
import { compileEmail } from "./compileEmail";
import type { EmailSetting } from "./EmailDocument";
import { fillEmail } from "./fillEmail";

const setting: EmailSetting = {
  look: standardLook,
  launch: "A & B",
  vendor: { name: "Marram & Purl", postalAddress: "1 Quay St\nLisbon" },
  media: () => undefined,
  origin: "https://shop.example",
  advertising: true,
  locale: "en-IE",
};
const source = { slug: "a", pages: [{ key: "sales", kind: "sales" as const, slug: "join" }] };
const facts: EmailFacts = { fields: { "first name": "<b>Ada</b>", launch: "A & B" }, next: "https://shop.example/l/a?x=1&k=2", token: "2" };
const write = async (content: EmailContent, more: Partial<EmailFacts> = {}, change: Partial<EmailSetting> = {}) =>
  fillEmail(await compileEmail(content, { ...setting, ...change }), {
    facts: { ...facts, ...more },
    source,
    unsubscribe: "https://shop.example/unsubscribe?u=1&v=2",
  });
const b = builder(idsFrom("e"));
const of = (...blocks: Parameters<typeof b.section>[0]): EmailContent => ({ subject: "S", preheader: "", sections: [b.section(blocks)], text: null });

describe("an email as it is sent", () => {
  it("says the same in text and in HTML, and HTML in a name stays text", async () => {
    const { subject, text, html } = await write(bellEmail("For {first name}", "One.\n\nTwo."));
    expect(subject).toBe("For <b>Ada</b>");
    for (const part of ["Hello <b>Ada</b>,", "One.", "Two.", "https://shop.example/l/a?x=1&k=2", "https://shop.example/unsubscribe?u=1&v=2"])
      expect(text).toContain(part);
    expect(html).toContain("Hello &lt;b&gt;Ada&lt;/b&gt;,");
    expect(html).toContain('href="https://shop.example/l/a?x=1&amp;k=2"');
    expect(html).not.toContain("<b>Ada");
  });
  it("is what mail programs hold: tables, no script, its charset and language named, where the vendor can be reached below it", async () => {
    const { text, html } = await write(usualEmail("welcome"), { fields: { ...facts.fields, "what comes next": "Doors open Friday." } });
    expect(html).toMatch(/^<!DOCTYPE html /);
    expect(html).toMatch(/<html[^>]* lang="en"/);
    expect(html).toMatch(/charset=utf-8/i);
    expect(html).not.toMatch(/<script|<!--\s|display:\s*(grid|flex)|\0/);
    for (const part of ["1 Quay St", "Lisbon"]) expect([text.includes(part), html.includes(part)]).toEqual([true, true]);
    // What comes first in a list of messages is its first sentence, not the greeting.
    expect(/display:none[^>]*>([^<]*)</.exec(html)![1]).toBe("Doors open Friday.");
  });
  it("breaks no header by a name of several lines", async () => {
    expect((await write(bellEmail("For {first name}", "x"), { fields: { "first name": "A\r\nBcc: b@x.example" } })).subject).toBe(
      "For A Bcc: b@x.example",
    );
  });
  it("leaves out what there is not for its reader, and shows what there is", async () => {
    const content = of(b.made("countdown", {}), b.made("download", { label: "The chart" }), b.made("partner", { words: "You come from" }));
    const none = await write(content);
    for (const part of ["<img", "The chart", "You come from"]) expect(none.html).not.toContain(part);
    const all = await write(content, {
      countdown: { src: "https://shop.example/c/a.png?k=1&z=2", says: "Doors close Friday at 20:00, Lisbon time" },
      gift: { name: "chart.pdf", href: "https://shop.example/media/1-file.pdf" },
      partner: { name: "Isla", note: "It is worth it." },
    });
    expect(all.html).toContain('src="https://shop.example/c/a.png?k=1&amp;z=2"');
    expect(all.html).toContain('alt="Doors close Friday at 20:00, Lisbon time"');
    for (const part of [
      "Doors close Friday at 20:00, Lisbon time.",
      "The chart",
      "https://shop.example/media/1-file.pdf",
      "chart.pdf",
      "Isla",
      "It is worth it.",
    ])
      expect(all.text).toContain(part);
  });
  it("leads by each button where it should: with the reader's clock to pages, without it to other sites", async () => {
    const { html } = await write(
      of(
        b.button("Page", { to: "page", page: "sales" }),
        b.button("Site", { to: "outside", url: "https://other.example/" }),
        b.button("Library", { to: "library" }),
      ),
      { library: "https://shop.example/library/open?t=1" },
    );
    const hrefs = [...html.matchAll(/<a [^>]*href="([^"]*)"/g)].map(([, href]) => href);
    expect(hrefs).toEqual([
      "https://shop.example/l/a/join?k=2",
      "https://other.example/",
      "https://shop.example/library/open?t=1",
      "https://shop.example/unsubscribe?u=1&amp;v=2",
    ]);
  });
  it("with a receipt has its lines, its sum and what must be said, and is no advertising", async () => {
    const receipt = {
      number: "1001",
      lines: [{ name: "Course <1>", gross: "€149.00", tax: "€27.86" }],
      total: "€149.00",
      tax: "€27.86",
      taxName: "VAT",
      vatNumber: "DE123456788",
    };
    const { subject, text, html } = await write(usualEmail("receipt"), { receipt, fields: { "order number": "1001" } }, { advertising: false });
    expect(subject).toBe("Your receipt, order 1001");
    for (const part of ["Course <1>: €149.00, incl. VAT €27.86", "Paid €149.00", "DE123456788"]) expect(text).toContain(part);
    for (const part of ["Course &lt;1&gt;", "€149.00", "DE123456788"]) expect(html).toContain(part);
    expect(text + html).not.toContain("nsubscribe");
    // An order made in test mode opens no library.
    expect(text).not.toContain("library");
  });
  it("takes the text part that was written by hand, with its fields, and what must stand below it", async () => {
    const { text } = await write({ ...bellEmail("S", "In HTML."), text: "By hand, {first name, else you}: {link}" });
    expect(text).toMatch(/^By hand, <b>Ada<\/b>: https:\/\/shop\.example\/l\/a\?x=1&k=2\n\n/);
    expect(text).toContain("https://shop.example/unsubscribe?u=1&v=2");
    expect(text).not.toContain("In HTML.");
  });
  it("keeps headings as they were typed, and lines as long as they are", async () => {
    const long = "word ".repeat(60).trim();
    const { text } = await write(of(b.title("Tonight the doors close."), b.text(long)));
    expect(text.split("\n\n").slice(0, 2)).toEqual(["Tonight the doors close.", long]);
  });
  it("shows uploads by whole addresses, in their proportion", async () => {
    const media = { id: "1", hash: "abc", width: 1600, height: 800, widths: [480, 960, 1600], extension: "webp" } as Media;
    const { html } = await write(of(b.picture({ media: "1", alt: "A gansey", decorative: false })), {}, { media: (id) => (id ? media : undefined) });
    expect(html).toMatch(/<img[^>]*alt="A gansey"[^>]*src="https:\/\/shop\.example\/media\/abc-960\.jpg"[^>]*width="544"/);
    expect(html).toMatch(/height="272"/);
  });
  it("can be read in every look, in a dark room as well (WCAG 2.2 §1.4.3)", async () => {
    for (const theme of themes) {
      const { html } = await write(bellEmail("S", "x"), {}, { look: { ...standardLook, theme } });
      const dark = /prefers-color-scheme:dark\)\{(.*?)\}\}/.exec(html)?.[1] ?? "";
      if (theme === "lantern") expect(html).toContain('<meta name="color-scheme" content="dark"');
      else {
        const paint = (name: string) => new RegExp(`\\.${name}[^{]*\\{[^#]*(#[0-9A-F]{6})`).exec(dark)![1] as `#${string}`;
        for (const ink of ["e-ink", "e-soft", "e-link"]) expect(contrast(paint(ink), paint("e-paper")), ink).toBeGreaterThanOrEqual(4.5);
      }
      const { paper, ink } = paletteOf({ ...standardLook, theme });
      expect([html.includes(`background-color:${paper}`), html.includes(`color:${ink}`)]).toEqual([true, true]);
    }
  });
  it("about an account is one link for one person, and promises no more", async () => {
    const { text, html } = await write(
      plainEmail({ subject: "S", paragraphs: ["Hello,", "Choose a password."], link: "Choose" }),
      {},
      { advertising: false },
    );
    expect(text).toContain("Choose https://shop.example/l/a?x=1&k=2");
    expect(html).not.toContain("nsubscribe");
  });
});
