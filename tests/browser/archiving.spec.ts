import { expect, test } from "@playwright/test";
import { at, expectAccessible, open, signIn, typeMoment } from "./desk";

test("what is over or was never used leaves the lists, comes back, and goes for good", async ({ page }) => {
  await signIn(page, "owner");
  // A launch whose doors are open stays in sight, and says until when.
  await open(page, "/desk/gansey/clock");
  await page.getByRole("button", { name: /^Archive / }).click();
  await expect(page.getByText(/The doors are open until/)).toBeVisible();
  await expect(page.getByRole("button", { name: /^Delete / })).toHaveCount(0);

  // A copy of the same name is told apart from it, wherever launches are named.
  await page.getByLabel("Name of the copy").fill("The Gansey Workshop");
  await typeMoment(page, "Doors of the copy open", "2031-05-01T18:00");
  await page.getByRole("button", { name: "Copy the launch" }).click();
  const made = page.getByRole("link", { name: /The copy is laid out/ });
  const slug = (await made.getAttribute("href"))!.split("/")[2]!;
  await open(page, "/desk");
  await expect(page.getByRole("link", { name: "The Gansey Workshop (/gansey)", exact: true })).toBeVisible();
  await expect(page.getByRole("link", { name: `The Gansey Workshop (/${slug})`, exact: true })).toBeVisible();

  // A page: archived from its editor, its address kept for it, restored, archived again, deleted.
  const addPage = async (address: string) => {
    await open(page, `/desk/${slug}/pages`);
    await page.getByLabel(`Address below /${slug}/`).fill(address);
    await page.getByLabel("Headline", { exact: true }).fill("A bonus");
    await page.getByRole("button", { name: "Add the page" }).click();
  };
  await addPage("bonus");
  await expect(page).toHaveURL(at(`/desk/${slug}/pages/bonus`));
  await open(page, `/desk/${slug}/pages/bonus`);
  await page.getByText("Archive it", { exact: true }).click();
  await page.getByRole("button", { name: "Archive the page" }).click();
  await expect(page.getByRole("button", { name: "Restore A bonus" })).toBeVisible();
  await addPage("bonus");
  await expect(page.getByText("An archived page has this address. Restore it under Pages, or choose another.")).toBeVisible();
  await page.getByRole("button", { name: "Restore A bonus" }).click();
  await expect(page.getByText("“A bonus” is back.")).toBeVisible();
  await open(page, `/desk/${slug}/pages/bonus`);
  await page.getByText("Archive it", { exact: true }).click();
  await page.getByRole("button", { name: "Archive the page" }).click();
  await page.getByRole("button", { name: "Delete A bonus" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Delete it for good" }).click();
  await expect(page.getByText("“A bonus” is deleted.")).toBeVisible();
  await expect(page.getByRole("button", { name: "Restore A bonus" })).toHaveCount(0);
  // What something hangs on says what, with the place where it is changed.
  await open(page, `/desk/${slug}/pages/sales`);
  await page.getByText("Archive it", { exact: true }).click();
  await expect(page.getByRole("link", { name: "Nothing can be sold without a page of its kind, and there is no other." })).toBeVisible();

  // The copy itself.
  await open(page, `/desk/${slug}/clock`);
  await page.getByRole("button", { name: /^Archive / }).click();
  await expect(page.getByText(/Archived on .*left out of the lists/)).toBeVisible();
  await expect(page.getByLabel("Launch", { exact: true }).locator("option")).toContainText([/\(\/gansey\)/]);
  await open(page, `/desk/${slug}/pages`);
  await expectAccessible(page);
  await open(page, "/desk");
  await expect(page.getByRole("heading", { name: "Archived" })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("button", { name: `Delete The Gansey Workshop (/${slug})` }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Delete it for good" }).click();
  await expect(page.getByRole("heading", { name: "Archived" })).toHaveCount(0);
  await expect(page.getByRole("link", { name: "The Gansey Workshop", exact: true })).toBeVisible();
  expect((await page.goto(at(`/desk/${slug}/score`)))!.status()).toBe(404);
});

test("a coupon that has ended leaves the list, and one that nobody used can be deleted", async ({ page }) => {
  await signIn(page, "owner");
  await open(page, "/desk/coupons");
  await page.getByLabel("Label, for the desk").fill("A try");
  await page.getByLabel("Percent").fill("5");
  await page.getByLabel("Code", { exact: true }).fill("SHORT-LIVED");
  await page.getByRole("button", { name: "Make the coupon" }).click();
  await expect(page.getByText("The code SHORT-LIVED holds.")).toBeVisible();
  await open(page, "/desk/coupons");
  await page.getByRole("button", { name: "End SHORT-LIVED" }).click();
  await page.getByRole("button", { name: "Archive SHORT-LIVED" }).click();
  await expect(page.getByText("“SHORT-LIVED” is archived.")).toBeVisible();
  await expect(page.getByText("A try", { exact: false })).toHaveCount(0);
  await open(page, "/desk/coupons");
  await page.getByRole("button", { name: "Show 1 archived coupon" }).click();
  await page.getByRole("button", { name: "Delete SHORT-LIVED" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Delete it for good" }).click();
  await expect(page.getByText("“SHORT-LIVED” is deleted.")).toBeVisible();
  await expect(page.getByRole("button", { name: /archived coupon/ })).toHaveCount(0);
});
