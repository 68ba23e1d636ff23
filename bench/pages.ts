import { usualLocale } from "../src/core/money";
import { once } from "../src/core/offers";
import { gzipSync } from "node:zlib";
import { chromium } from "@playwright/test";
import { createHash } from "node:crypto";
import { builder, fill, idsFrom, pageOf, standardLook, templates, type PageContent } from "../src/core/pages";
import { view } from "../src/core/launch";
import { compilePage } from "../src/public/compile";
import { fillHole } from "../src/public/fillHole";
import { chromiumOptions } from "../tests/support/chromium";
import { planFor } from "../tests/support/plans";
import { median } from "./statistics";

/** What each template weighs as a visitor gets it, and what else it asks for. */
export const templateWeights = (): void => {
  const plan = planFor();
  const now = new Date();
  const seen = view(plan, {}, now);
  const facts = {
    plan,
    seen,
    address: seen.addresses[0]!,
    key: "sales",
    now,
    locale: usualLocale,
    origin: "https://shop.example",
    vendor: "V",
    product: { name: "P", description: "", taxMode: "inclusive" as const, refundDays: 30, terms: once },
    consent: "Yes.",
    extras: {},
    form: { values: {}, errors: {} },
    words: { title: "T", description: "" },
  };
  console.log("\nTemplates as sent, without pictures: HTML with its style, of that gzipped, and further requests (types and one script)");
  for (const { id, make } of templates) {
    const hash = (text: string) => createHash("sha256").update(text).digest("base64");
    const page = compilePage({
      content: make("A course"),
      look: standardLook,
      launch: { slug: "l", name: "L" },
      key: "sales",
      vendor: "V",
      media: () => undefined,
      hash,
    });
    const sent = fill(page, (hole) => fillHole(hole, facts));
    const requests = new Set([...sent.matchAll(/(?:href|src)="(\/_ib\/[^"]+)"/g)].map(([, address]) => address)).size;
    console.log(
      `  ${id.padEnd(18)} ${(sent.length / 1024).toFixed(1)} KiB, ${(gzipSync(sent).length / 1024).toFixed(1)} gzipped, ${requests} requests`,
    );
  }
};

/** A page of 300 blocks, as somebody in a hurry would never build it. */
export const longPage = (): PageContent => {
  const b = builder(idsFrom("b"));
  return pageOf([
    b.section([
      b.title("300 blocks"),
      ...Array.from({ length: 299 }, (_, n) =>
        n % 3 === 0 ? b.heading(`Heading ${n}`) : n % 3 === 1 ? b.text(`Paragraph ${n} of a long email.`) : b.benefits([`One ${n}`, "Two"]),
      ),
    ]),
  ]);
};

/** How long the editor takes from a key to the proof, with 300 blocks on the page. */
export const editorActions = async (origin: string, login: { email: string; password: string }, address: string): Promise<void> => {
  const browser = await chromium.launch(chromiumOptions);
  try {
    const page = await browser.newPage();
    await page.goto(`${origin}/desk/sign-in`);
    await page.getByLabel("Email").fill(login.email);
    await page.getByLabel("Password").fill(login.password);
    await page.getByRole("button", { name: "Sign in" }).click();
    await page.waitForURL(`${origin}/desk`);
    await page.goto(`${origin}${address}`);
    await page.waitForSelector("button[data-block='b150']");
    await page.waitForTimeout(1500);
    await page.locator("button[data-block='b2']").click();
    const field = page.getByRole("textbox", { name: "Headline" });
    await field.focus();
    // From the key to the frame in which the proof shows it: what the main thread works on one action.
    const times = await page.evaluate(async () => {
      const input = document.activeElement as HTMLInputElement;
      // The framework listens to the platform's own setter.
      const own = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")!;
      const taken: number[] = [];
      for (let n = 0; n < 40; n += 1) {
        await new Promise((next) => setTimeout(next, 60));
        const began = performance.now();
        own.set?.call(input, `Heading ${n} typed`);
        input.dispatchEvent(new Event("input", { bubbles: true }));
        await new Promise((next) => queueMicrotask(() => next(undefined)));
        const inside = document.querySelector<HTMLIFrameElement>("iframe[title='The page']")!.contentDocument!;
        while (!inside.body.textContent.includes(`Heading ${n} typed`)) await new Promise((next) => setTimeout(next, 0));
        taken.push(performance.now() - began);
      }
      return taken;
    });
    console.log(
      `\nEditor with 300 blocks: ${median(times).toFixed(0)} ms from a key to the proof, the slowest of 40 ${Math.max(...times).toFixed(0)} ms (goal 50 ms an action)`,
    );
  } finally {
    await browser.close();
  }
};
