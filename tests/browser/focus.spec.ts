import { expect, test, type Locator } from "@playwright/test";
import { open, signIn } from "./desk";

/** Presses a button by the keyboard and says what has the focus once the press has been answered. The head of the page is never what a person expects. */
const press = async (button: Locator): Promise<Locator> => {
  const page = button.page();
  await button.press("Enter");
  await expect(page.locator("body")).not.toBeFocused();
  // An answer may remove or disable the button later than the press.
  await page.waitForLoadState("networkidle");
  await page.waitForTimeout(250);
  await expect(page.locator("body")).not.toBeFocused();
  return page.locator(":focus");
};

test.use({ actionTimeout: 30_000 });
test.beforeEach(({ page }) => signIn(page, "owner"));

test("a row whose button is replaced or removed hands the focus to the list around it", async ({ page }) => {
  await open(page, "/desk/settings");
  const team = page.getByRole("region", { name: "Team" });
  const table = await press(team.getByRole("button", { name: /^End the membership of / }).last());
  await expect(table).toContainText("End the membership");
  await press(team.getByRole("button", { name: "Keep it" }));
  await team.getByLabel("Invite by email").fill("focus@walk.example");
  // What stays on the screen and can be pressed again keeps the focus itself.
  await expect(await press(team.getByRole("button", { name: "Send the invitation" }))).toHaveText("Send the invitation");
  await press(page.getByRole("button", { name: "Take back the invitation of focus@walk.example" }));
  await press(page.getByRole("button", { name: "Dismiss" }));
});

test("a comment that is let through and one that is not keep the focus in their list", async ({ page }) => {
  await open(page, "/desk/gansey/comments");
  const waiting = page.getByRole("listitem").filter({ hasText: "waits to be read" }).first();
  const name = await waiting.getByRole("strong").textContent();
  const one = page.getByRole("listitem").filter({ hasText: name! }).first();
  await press(one.getByRole("button", { name: "Do not show it" }));
  await one.getByText("Answer", { exact: true }).click();
  await press(one.getByRole("button", { name: "Show it on the page" }));
});

test("a button that is disabled by its press hands the focus on, and has it again as soon as it can", async ({ page }) => {
  await open(page, "/desk/products");
  await page.getByRole("button", { name: "Chart Paper Pack", exact: true }).click();
  const pane = page.getByRole("region", { name: /^Chart Paper Pack/ });
  const label = pane.getByLabel("Private label, for the desk");
  const before = await label.inputValue();
  await label.fill("Bump on paper");
  await label.blur();
  const undo = pane.getByRole("button", { name: "Undo" });
  const part = await press(undo);
  await expect(label).toHaveValue(before);
  await expect(undo).toBeDisabled();
  await expect(part).toContainText("Redo");
});

test("a bump that is removed hands the focus to its pane", async ({ page }) => {
  await open(page, "/desk/gansey/offers");
  await page
    .getByRole("button", { name: /^Checkout/ })
    .first()
    .press("Enter");
  await press(page.getByRole("button", { name: "Remove", exact: true }).first());
  await press(page.getByRole("button", { name: /Undo/ }).first());
});
