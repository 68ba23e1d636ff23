import { expect, test } from "@playwright/test";
import { at, beginCheckout, cards, expectAccessible, payWith } from "./desk";

test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

const noSideways = async (page: import("@playwright/test").Page) => {
  const { scroll, width } = await page.evaluate(() => ({ scroll: document.documentElement.scrollWidth, width: innerWidth }));
  expect(scroll).toBeLessThanOrEqual(width);
};

test("a buyer on a phone goes from the sales page to the receipt without scrolling sideways", async ({ page }) => {
  await page.goto(at("/l/gansey"));
  await noSideways(page);
  await expectAccessible(page);
  await page.getByRole("link", { name: "Keep my seat at the workshop" }).first().click();
  await noSideways(page);
  await beginCheckout(page, "gansey", "phone@walk.example", "France");
  await noSideways(page);
  await payWith(page, cards.good);
  await expect(page.getByRole("button", { name: "Yes, add the Stitch Library" })).toBeVisible();
  await noSideways(page);
  await expectAccessible(page);
  await page.getByRole("button", { name: "Yes, add the Stitch Library" }).click();
  await expect(page.getByRole("row", { name: "Paid" })).toContainText("€216.00");
  await noSideways(page);
});

test("the closed page of a launch that is over takes an address", async ({ page }) => {
  await page.goto(at("/l/yoke/join"));
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("The doors are closed.");
  await noSideways(page);
  await expectAccessible(page);
});

test.describe("with script off", () => {
  test.use({ javaScriptEnabled: false });
  test("the countdown stands in words, and the opt-in works", async ({ page }) => {
    await page.goto(at("/l/gansey"));
    await expect(page.getByText(/Doors close \w+ \d+ \w+ \d{4} at 00:00, Lisbon time/)).toBeVisible();
    await page.goto(at("/l/yoke"));
    await page.getByLabel("First name").fill("Plain");
    await page.getByLabel("Email").fill("plain@walk.example");
    await page.getByRole("checkbox").check();
    await page.getByRole("button").click();
    await expect(page.getByText("You are on the list.")).toBeVisible();
  });
});
