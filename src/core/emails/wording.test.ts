import { describe, expect, it } from "vitest";
import { receiptWords, recoveryWords, renderEmail, welcomeWords } from ".";

describe("an email", () => {
  it("says the same in text and in HTML, and HTML in a name stays text", () => {
    const words = welcomeWords({ firstName: "<b>Ada</b>", launch: "A & B", opens: "Friday", link: "https://shop.example/l/a?x=1&y=2", open: false });
    const { text, html } = renderEmail(words, "Marram & Purl", "https://shop.example/stop?u=1");
    expect(text).toContain("Hello <b>Ada</b>,");
    expect(html).toContain("Hello &lt;b&gt;Ada&lt;/b&gt;,");
    expect(html).toContain('href="https://shop.example/l/a?x=1&amp;y=2"');
    expect(text).toContain("https://shop.example/stop?u=1");
    expect(html).toContain("Stop all letters");
  });
  it("after the opening bell does not promise one", () => {
    const words = welcomeWords({ firstName: "Ada", launch: "A", opens: "Friday", link: "x", open: true });
    expect(words.paragraphs.join()).not.toContain("Friday");
  });
  it("with a receipt names every line, its tax, the sum and the order, and is no advertising", () => {
    const lines = [{ name: "Course", gross: "€149.00", tax: "€27.86" }];
    const words = receiptWords({ firstName: "Ada", number: "1001", lines, total: "€149.00", tax: "€27.86", link: "x" });
    const { text } = renderEmail(words, "Marram & Purl");
    for (const part of ["Course: €149.00", "€27.86", "1001"]) expect(text).toContain(part);
    expect(text).not.toContain("Stop all letters");
  });
  it("to a lost buyer says that nothing was charged, and when the doors close", () => {
    const words = recoveryWords({ firstName: "Ada", product: "Course", closes: "Friday", link: "x" });
    expect(words.paragraphs.join()).toContain("Nothing was charged");
    expect(words.paragraphs.join()).toContain("Friday");
  });
});
