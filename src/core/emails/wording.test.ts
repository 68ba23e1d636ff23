import { describe, expect, it } from "vitest";
import { confirmWords, bellEmailWords, receiptWords, recoveryWords, renderEmail, welcomeWords } from ".";

const vendor = { name: "V", postalAddress: "" };

describe("an email", () => {
  it("says the same in text and in HTML, and HTML in a name stays text", () => {
    const words = welcomeWords({
      firstName: "<b>Ada</b>",
      launch: "A & B",
      bell: "Doors open Friday",
      link: "https://shop.example/l/a?x=1&y=2",
      open: false,
    });
    const { text, html } = renderEmail(words, { name: "Marram & Purl", postalAddress: "1 Quay St\nLisbon" }, "https://shop.example/stop?u=1");
    expect(text).toContain("Hello <b>Ada</b>,");
    expect(html).toContain("Hello &lt;b&gt;Ada&lt;/b&gt;,");
    expect(html).toContain('href="https://shop.example/l/a?x=1&amp;y=2"');
    expect(text).toContain("https://shop.example/stop?u=1");
    expect(html).toContain("Unsubscribe");
    // Where the vendor can be reached stands under every email, and what comes first in a list of messages is its first sentence.
    for (const part of ["1 Quay St", "Lisbon"]) expect([text.includes(part), html.includes(part)]).toEqual([true, true]);
    expect(html).toMatch(/^<!doctype html><html lang="en"><head><meta charset="utf-8">/);
    expect(html).toContain('overflow:hidden">You will find A &amp; B');
  });
  it("shows the reader's own countdown as a picture, with the same in words", () => {
    const countdown = { src: "https://shop.example/c/a.png?k=1", says: "Doors close Friday at 20:00, Lisbon time" };
    const { text, html } = renderEmail(bellEmailWords({ firstName: "Ada", subject: "S", text: "One.\n\nTwo.", link: "x", countdown }), vendor, "u");
    expect(html).toContain('src="https://shop.example/c/a.png?k=1"');
    expect(html).toContain('alt="Doors close Friday at 20:00, Lisbon time"');
    expect(text).toContain("Doors close Friday at 20:00, Lisbon time.");
    expect(html.match(/<p[ >]/g)!.length).toBeGreaterThanOrEqual(5);
  });
  it("that asks whether an address is right says what happens if it is not, and greets nobody by an empty name", () => {
    const { text, html } = renderEmail(confirmWords({ launch: "A & B", link: "https://shop.example/l/a/confirm?c=1" }), vendor);
    expect(text).toMatch(/^Hello,$/m);
    expect(text).toContain("https://shop.example/l/a/confirm?c=1");
    expect(text).toContain("If it was not you, do nothing");
    expect(html).toContain("A &amp; B");
    expect(text).not.toContain("Unsubscribe");
  });
  it("of welcome carries what the form promised", () => {
    const gift = { name: "chart.pdf", href: "https://shop.example/media/1-file.pdf" };
    const { text } = renderEmail(welcomeWords({ firstName: "Ada", launch: "A", link: "x", open: false, gift }), vendor, "u");
    expect(text).toContain("chart.pdf, is here: https://shop.example/media/1-file.pdf");
  });
  it("names the bell that comes next, and none where none does", () => {
    const words = (bell?: string) => welcomeWords({ firstName: "Ada", launch: "A", bell, link: "x", open: true }).paragraphs.join();
    expect(words("Doors close Friday")).toContain("Doors close Friday.");
    expect(words()).not.toContain("Doors");
  });
  it("with a receipt names every line, its tax, the sum and the order, and is no advertising", () => {
    const lines = [{ name: "Course", gross: "€149.00", tax: "€27.86" }];
    const words = receiptWords({ firstName: "Ada", number: "1001", lines, total: "€149.00", tax: "€27.86", taxName: "VAT", link: "x" });
    const { text } = renderEmail(words, { name: "Marram & Purl", postalAddress: "1 Quay St\nLisbon" });
    for (const part of ["Course: €149.00", "€27.86", "1001"]) expect(text).toContain(part);
    expect(text).not.toContain("Unsubscribe");
    const all = receiptWords({
      firstName: "Ada",
      number: "2",
      lines: [],
      total: "€49.00",
      tax: "€9.16",
      taxName: "VAT",
      link: "x",
      authorized: "€49.00",
      library: "https://shop.example/library/open?t=1",
    });
    expect(all.paragraphs).toContain("Total €49.00, incl. VAT €9.16. Order 2.");
    expect(all.paragraphs).toContain("€49.00 of it: authorized on your card, and charged when your order ships.");
    expect(all.paragraphs.at(-1)).toBe("You will find all your orders in your library: https://shop.example/library/open?t=1");
    const business = receiptWords({
      firstName: "Ada",
      number: "1",
      lines: [],
      total: "€1.00",
      tax: "€0.00",
      taxName: "VAT",
      vatNumber: "DE123456788",
      link: "x",
    });
    expect(business.paragraphs.join(" ")).toContain("Reverse charge: DE123456788 accounts for the tax.");
  });
  it("to a lost buyer says that nothing was charged, and when the doors close", () => {
    const words = recoveryWords({ firstName: "Ada", product: "Course", closes: new Date("2026-11-27T18:00:00Z"), zone: "Europe/Lisbon", link: "x" });
    expect(words.paragraphs.join()).toContain("Nothing was charged");
    expect(words.paragraphs.join()).toContain("Friday 27 November 2026 at 18:00, Lisbon time");
  });
});
