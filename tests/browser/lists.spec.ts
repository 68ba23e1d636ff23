import { readFile } from "node:fs/promises";
import { expect, test } from "@playwright/test";
import Papa from "papaparse";
import { at, expectAccessible, momentIn, open, signIn, typeMoment, typeZone } from "./desk";

const rowsOf = async (path: string): Promise<Record<string, string>[]> =>
  Papa.parse<Record<string, string>>(await readFile(path, "utf8"), { header: true, skipEmptyLines: true }).data;

test.beforeEach(({ page }) => signIn(page, "owner"));

test("orders are sorted by a press, read to the last one, ticked, and taken away as a file; the address says how", async ({ page }) => {
  await open(page, "/desk/orders?launch=yoke");
  const all = Number(/^([\d,]+) orders$/.exec((await page.getByText(/^[\d,]+ orders$/).textContent())!)![1]!.replace(",", ""));
  expect(all).toBeGreaterThan(150);
  const rows = page.locator("tbody tr[aria-rowindex]");
  // By number, upwards: the first is the launch's first, and the last comes when it is scrolled to.
  await page.getByRole("button", { name: "Order", exact: true }).click();
  await expect(page).toHaveURL(at("/desk/orders?launch=yoke&sort=number"));
  await expect(page.getByRole("columnheader", { name: "Order", exact: true })).toHaveAttribute("aria-sort", "ascending");
  const seen = new Set<number>();
  for (let step = 0; step < 600 && seen.size < all; step += 1) {
    for (const text of await rows.locator("td:nth-child(2)").allTextContents()) seen.add(Number(text));
    // Less than a screen at a time, each drawn before it is read.
    await page.evaluate(() => new Promise((drawn) => (scrollBy(0, 350), requestAnimationFrame(() => requestAnimationFrame(drawn)))));
  }
  expect(seen.size).toBe(all);
  // Only those in sight are drawn.
  expect(await rows.count()).toBeLessThan(80);
  await expect(page.getByRole("button", { name: /^Show more/ })).toHaveCount(0);

  await page.reload();
  await expect(page.getByRole("columnheader", { name: "Order", exact: true })).toHaveAttribute("aria-sort", "ascending");
  const [file] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name: `Download ${all} orders as CSV` }).click()]);
  const written = await rowsOf(await file.path());
  expect(written.map(({ order }) => Number(order))).toEqual([...seen].sort((a, b) => a - b));

  // The arrow keys go from row to row; a tick makes a file of its own.
  await rows.first().getByRole("link").focus();
  await page.keyboard.press("ArrowDown");
  await expect(rows.nth(1).getByRole("link")).toBeFocused();
  await page.keyboard.press("ArrowUp");
  await expect(rows.first().getByRole("link")).toBeFocused();
  await rows.first().getByRole("checkbox").check();
  await rows
    .nth(2)
    .getByRole("checkbox")
    .click({ modifiers: ["Shift"] });
  await expect(page.getByText("3 ticked")).toBeVisible();
  await expectAccessible(page);
  const [part] = await Promise.all([page.waitForEvent("download"), page.getByRole("button", { name: "Download 3 orders as CSV" }).click()]);
  expect(await rowsOf(await part.path())).toHaveLength(3);
});

test("a list that is all here is found in by typing, and says how many there are", async ({ page }) => {
  await open(page, "/desk/tax");
  await page.getByRole("searchbox", { name: "Find in tax rates" }).fill("est");
  await expect(page.getByText(/^\d+ of \d+ rates$/)).toBeVisible();
  for (const row of await page.locator("tbody tr").all()) await expect(row).toContainText("Estonia");
  await page.getByRole("button", { name: "Rate", exact: true }).click();
  const shown = (await page.locator("tbody tr td:nth-child(3)").allTextContents()).map((text) => Number.parseFloat(text));
  expect(shown).toEqual([...shown].sort((a, b) => b - a));
  await page.reload();
  await expect(page.getByRole("searchbox", { name: "Find in tax rates" })).toHaveValue("est");
  await page.getByRole("searchbox", { name: "Find in tax rates" }).fill("atlantis");
  await expect(page.getByText(/^None of \d+ rates contains “atlantis”\.$/)).toBeVisible();
});

test("a product is saved as it is changed, and every step can be undone; what is refused says so, and is not lost", async ({ page }) => {
  await open(page, "/desk/products");
  await page.getByRole("button", { name: "Pattern Club", exact: true }).click();
  const pane = page.getByRole("region", { name: /^Pattern Club/ });
  const label = pane.getByLabel("Private label, for the desk");
  const before = await label.inputValue();
  await label.fill("Continuity, by the month");
  await label.blur();
  await expect(pane.getByText("Saved.")).toBeVisible();
  await pane.getByLabel("Price, EUR", { exact: true }).fill("much");
  await pane.getByLabel("Price, EUR", { exact: true }).blur();
  await expect(pane.getByText("Not saved: a field needs another look.")).toBeVisible();
  await expect(pane.getByLabel("Price, EUR", { exact: true })).toHaveAttribute("aria-invalid", "true");
  await pane.getByRole("button", { name: "Undo" }).click();
  await expect(pane.getByText("Saved.")).toBeVisible();
  await expect(label).toHaveValue("Continuity, by the month");
  await pane.getByRole("button", { name: "Undo" }).click();
  await expect(label).toHaveValue(before);
  await expect(pane.getByText("Saved.")).toBeVisible();
  await pane.getByRole("button", { name: "Redo" }).click();
  await expect(pane.getByText("Saved.")).toBeVisible();
  await page.reload();
  await expect(label).toHaveValue("Continuity, by the month");
  // What somebody else saved meanwhile is not overwritten, nor is what is typed here lost: who sees both decides.
  const other = await page.context().newPage();
  await open(other, page.url().replace(at(""), ""));
  const saveThere = async (words: string) => {
    const there = other.getByLabel("Private label, for the desk");
    await there.fill(words);
    await there.blur();
    await expect(other.getByText("Saved.")).toBeVisible();
  };
  await saveThere("Theirs");
  await label.fill("Mine");
  await label.blur();
  await expect(pane.getByText("Not saved: somebody else saved it meanwhile.")).toBeVisible();
  await pane.getByRole("button", { name: "Keep mine" }).click();
  await expect(pane.getByText("Saved.")).toBeVisible();
  await other.reload();
  await expect(other.getByLabel("Private label, for the desk")).toHaveValue("Mine");
  await saveThere("Theirs again");
  await label.fill("Mine again");
  await label.blur();
  await pane.getByRole("button", { name: "Take theirs" }).click();
  await expect(label).toHaveValue("Theirs again");
  await pane.getByRole("button", { name: "Undo" }).click();
  await expect(label).toHaveValue("Mine again");
  await expect(pane.getByText("Saved.")).toBeVisible();
  await label.fill(before);
  await label.blur();
  await expect(pane.getByText("Saved.")).toBeVisible();
  await other.close();
});

test("a launch is drawn while it is filled in, and what was filled in is there again for who comes back", async ({ page }) => {
  await open(page, "/desk/new");
  await expect(page.getByText("The launch is drawn here once it is known when the doors open and close.")).toBeVisible();
  await page.getByLabel("Name", { exact: true }).fill("Knots");
  await typeZone(page, "America/New_York");
  await typeMoment(page, "Doors open", "2031-05-01T18:00");
  // Picked from the calendar, by the keyboard alone.
  await typeMoment(page, "Doors close", "2031-05-01T20:00");
  await page.keyboard.press("Tab");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("dialog")).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  expect(await momentIn(page, "Doors close")).toBe("2031-05-08T20:00");
  await expect(page.getByText("Thursday 8 May 2031 at 20:00, New York time.")).toBeVisible();
  await expect(page.getByText(/Doors close: 7 days 2 hours later/)).toBeVisible();
  await expect(page.getByRole("img", { name: /The launch on a time axis: \d+ bells/ })).toBeVisible();
  await page.getByRole("radio", { name: /Only a list/ }).check();
  await expect(page.getByRole("button", { name: "Start with 2 pages" })).toBeVisible();
  await open(page, "/desk");
  await open(page, "/desk/new");
  await expect(page.getByText("What you filled in here before is back.")).toBeVisible();
  await expect(page.getByLabel("Name", { exact: true })).toHaveValue("Knots");
  expect(await momentIn(page, "Doors close")).toBe("2031-05-08T20:00");
  // All that is missing is said in one round, and the first of it takes the focus.
  await page.getByLabel("Name", { exact: true }).fill("");
  await page.getByRole("radio", { name: /Sell at once/ }).check();
  await page.getByRole("button", { name: /^Start with/ }).click();
  for (const missing of ["Give the launch a name.", "Name what is sold", "Give an amount"])
    await expect(page.getByText(missing).first()).toBeVisible();
  await expect(page.getByLabel("Name", { exact: true })).toBeFocused();
});
