import { expect, test } from "@playwright/test";
import { awake, emails, expectAccessible, open, signIn } from "./desk";

test.describe.configure({ mode: "serial" });

test("an email of a launch is read as somebody gets it, sent as a test, changed with what that moves, and brought back", async ({ page }) => {
  await signIn(page, "owner");
  await open(page, "/desk/gansey/emails");
  await expect(page.getByRole("img", { name: "6 emails along the bells" })).toBeVisible();
  const row = page.getByRole("row").filter({ hasText: "The Gansey Workshop closes in a day" });
  await expect(row).toContainText("1 day before the closing bell");
  await row.getByRole("button").press("Enter");
  await expect(page).toHaveURL(/email=/);
  const preview = page.getByRole("region", { name: "As it is read" });
  await expect(preview.getByRole("heading")).toHaveText("The Gansey Workshop closes in a day");
  await expect(preview.getByText(/^as anybody gets it, .* Lisbon$/)).toBeVisible();
  await expect(preview.frameLocator("iframe").getByText("Hello,")).toBeVisible();
  await expectAccessible(page);
  await preview.getByRole("button", { name: "Send it to me as a test" }).click();
  await expect(page.getByText("Sent to owner@marram.example.")).toBeVisible();
  await expect
    .poll(async () => (await emails("owner@marram.example")).map(({ subject }) => subject))
    .toContain("Test: The Gansey Workshop closes in a day");
  // Changed, it says what that moves before it is made.
  await page.getByText("Change it", { exact: true }).click();
  await page.getByLabel("Subject", { exact: true }).fill("");
  await expect(page.getByRole("alert").first()).toContainText("One field needs another look");
  await page.getByLabel("Subject", { exact: true }).fill("One day of The Gansey Workshop");
  await page.getByLabel("Offset", { exact: true }).fill("2");
  await page.getByRole("button", { name: "See what that changes" }).click();
  const change = page.getByRole("region", { name: "What this changes" });
  await expect(change).toContainText("One day of The Gansey Workshop");
  await change
    .getByRole("button", { name: /^Change it/ })
    .first()
    .click();
  await expect(page.getByText("Changed. Every page, email and picture shows it from now on.")).toBeVisible();
  await expect(preview.getByRole("heading")).toHaveText("One day of The Gansey Workshop");
  await page.reload();
  await awake(page);
  await expect(page.getByRole("row").filter({ hasText: "One day of The Gansey Workshop" })).toContainText("2 days before the closing bell");
  await page.getByRole("button", { name: "Undo the newest change" }).click();
  await expect(page.getByText(/^Undone: /)).toBeVisible();
  await expect(page.getByRole("row").filter({ hasText: "The Gansey Workshop closes in a day" })).toContainText("1 day before the closing bell");
});

test("a new email is written, and taken out again before it is made; who may only look changes and tests nothing", async ({ page, browser }) => {
  await signIn(page, "owner");
  await open(page, "/desk/gansey/emails");
  await page.getByRole("button", { name: "Add an email" }).press("Enter");
  await expect(page.getByRole("row").filter({ hasText: "A few hours left" })).toContainText("3 hours before the closing bell");
  await expect(page.getByText("It is new: once it is made it can be read here as somebody gets it.")).toBeVisible();
  await page.getByRole("button", { name: "Remove this email" }).press("Enter");
  await expect(page.getByText("Changed here, not made yet")).toBeHidden();
  await expect(page.locator("body")).not.toBeFocused();
  const viewer = await (await browser.newContext()).newPage();
  await signIn(viewer, "viewer");
  await open(viewer, "/desk/gansey/emails");
  await viewer.getByRole("row").filter({ hasText: "are open" }).getByRole("button").click();
  await expect(viewer.getByRole("region", { name: "As it is read" }).getByRole("heading")).toContainText("are open");
  await expect(viewer.getByRole("button", { name: "Send it to me as a test" })).toHaveCount(0);
  await expect(viewer.getByRole("button", { name: "Add an email" })).toHaveCount(0);
});

test("seen as a person, each email says when it goes to them, or why it does not", async ({ page }) => {
  await signIn(page, "owner");
  await open(
    page,
    `/desk/people?${new URLSearchParams({ who: 'all of (paid of launch "The Gansey Workshop"; opted in of launch "The Gansey Workshop")' })}`,
  );
  await page.getByRole("table").getByRole("link").first().click();
  await awake(page);
  const as = await page.getByRole("link", { name: "See the launch as them" }).first().getAttribute("href");
  await open(page, as!.replace("/score", "/emails"));
  await page.getByRole("row").filter({ hasText: "the last hour" }).getByRole("button").click();
  await expect(page.getByText("It does not go to them: its reader has bought. Others get this.")).toBeVisible();
});
