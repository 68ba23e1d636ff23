import { expect, test } from "@playwright/test";
import { at, expectAccessible, open, signIn } from "./desk";

test("every number of the stream leads to its people, who can be asked for in other words", async ({ page }) => {
  await signIn(page, "viewer");
  await page.goto(at("/desk/gansey/leaks"));
  const lost = page.getByRole("link", { name: /left here/ }).last();
  const n = /^([\d,]+) left here/.exec((await lost.textContent())!.trim())![1]!;
  await lost.click();
  await expect(page.getByRole("heading", { name: "People" })).toBeVisible();
  await expect(page.getByText(`${n} people`)).toBeVisible();
  const who = page.getByLabel("Who");
  await expect(who).toHaveValue("all of (began a checkout; none of (paid))");
  await expectAccessible(page);

  // Page by page, without anybody twice.
  const emails = () => page.locator("tbody td:first-child .muted").allTextContents();
  const first = await emails();
  expect(first).toHaveLength(100);
  await page.getByRole("link", { name: "Next" }).click();
  await expect(page.getByRole("link", { name: "First" })).toBeVisible();
  expect((await emails()).filter((email) => email.includes("@") && first.includes(email))).toEqual([]);

  // What is not understood is said at the field, and stays as it was typed.
  await who.fill("all of (began a checkout; bought)");
  await page.getByRole("button", { name: "Show people" }).click();
  await expect(page.getByRole("alert")).toContainText("Not understood from “bought)” on");
  await expect(who).toHaveValue("all of (began a checkout; bought)");
  await expect(who).toHaveAttribute("aria-invalid", "true");
  await expectAccessible(page);
  await who.fill('paid of product "The Gansey Workshop"');
  await page.getByRole("button", { name: "Show people" }).click();
  await expect(page.locator("tbody tr").first()).toBeVisible();
  await who.fill("is in AQ");
  await page.getByRole("button", { name: "Show people" }).click();
  await expect(page.getByText("Nobody of this launch meets this condition.")).toBeVisible();

  // On a phone the table scrolls in its own frame.
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(at("/desk/gansey/people?who=paid"));
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});

test("a page's figures lead to who saw it", async ({ page }) => {
  await signIn(page, "owner");
  await page.goto(at("/desk/gansey/pages"));
  const figures = page.getByRole("link", { name: /^began a checkout: / }).first();
  const of = / of ([\d,]*\d)/.exec((await figures.textContent())!)![1]!;
  await figures.click();
  await expect(page.getByText(`${of} people`)).toBeVisible();
});

test("how long things are kept is set field by field", async ({ page }) => {
  await signIn(page, "owner");
  await open(page, "/desk/settings");
  const log = page.getByLabel("Event log, days");
  await log.fill("20");
  await log.blur();
  await expect(page.getByText("30 days at least; empty keeps it for good.")).toBeVisible();
  await expect(log).toHaveValue("20");
  await log.fill("three");
  await log.blur();
  await expect(page.getByText("A number of days; empty keeps it for good.")).toBeVisible();
  await log.fill("3000");
  await log.blur();
  await expect(page.getByText("Saved. What is older than 3000 days goes within the hour.")).toBeVisible();
  await expectAccessible(page);
  await open(page, "/desk/settings");
  await expect(log).toHaveValue("3000");
  await log.fill("");
  await log.blur();
  await expect(page.getByText("Saved. It is kept for good from now on.")).toBeVisible();
});
