import { expect, test, type Page } from "@playwright/test";
import { at, beginCheckout, cards, emails, expectAccessible, open, payWith, signIn } from "./desk";

const email = "access@walk.example";

/** The library of an address, opened by the link that it is sent. */
const openLibrary = async (page: Page): Promise<void> => {
  await page.goto(at("/library/sign-in"));
  await page.getByLabel("Email, as on your orders").fill(email);
  await page.getByRole("button", { name: "Send me a link" }).click();
  const link = async () => (await emails(email)).find(({ subject }) => subject === "The link to your library")?.text;
  await expect.poll(link).toContain("/library/open?t=");
  await page.goto(/http\S+\/library\/open\?t=\S+/.exec((await link())!)![0]);
  await page.getByRole("button", { name: "Open my library" }).click();
  await expect(page).toHaveURL(at("/library"));
};

test.describe.serial("what was bought", () => {
  test("is in the library on a phone, closes with the refund, and opens again where the desk gives it", async ({ page, browser }) => {
    const buyer = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
    await beginCheckout(buyer, "gansey", email);
    await payWith(buyer, cards.good);
    await expect(buyer.getByRole("button", { name: "No, thank you" })).toBeVisible();
    await openLibrary(buyer);
    const workshop = buyer.getByRole("region", { name: "Yours" }).getByRole("listitem").filter({ hasText: "The Gansey Workshop" });
    await expect(workshop).toHaveText("The Gansey Workshop");
    await expectAccessible(buyer);

    await signIn(page, "owner");
    await open(page, `/desk/orders?search=${encodeURIComponent(email)}`);
    await page.getByRole("link", { name: /^\d+$/ }).first().click();
    await page.locator("summary", { hasText: /^Refund$/ }).click();
    await page.getByLabel(/The Gansey Workshop, up to/).fill("149.00");
    await page.getByLabel("Reason").fill("Wrong needles");
    await page.getByRole("button", { name: "Refund to the card" }).click();
    await expect(page.getByText("refund, succeeded")).toBeVisible();
    await buyer.reload();
    await expect(workshop).toContainText("you have your money back");

    await open(page, `/desk/people?find=${email}`);
    await page.getByRole("link", { name: "Runa" }).first().click();
    const owns = page.getByRole("region", { name: "Owns" });
    await expect(owns).toContainText("all that was paid went back");
    await owns.getByText("Why, and since when").click();
    await expect(owns.getByRole("listitem").filter({ hasText: "opened" }).last()).toContainText(/order \d+/);
    await owns.getByText("Give access without an order").click();
    await owns.getByRole("button", { name: "Give access" }).click();
    await expect(owns.getByText("Choose what is given.")).toBeVisible();
    await owns.getByLabel("Product").selectOption(
      await owns
        .getByRole("option", { name: /^The Gansey Workshop/ })
        .first()
        .getAttribute("value"),
    );
    await owns.getByLabel("Why", { exact: true }).fill("She paid in cash at the fair");
    // A moment that is typed by half does not mean for good.
    await owns.getByLabel("How long").selectOption("until");
    await owns.getByRole("button", { name: "Give access" }).click();
    await expect(owns.getByText("Give the whole date and time.")).toBeVisible();
    await owns.getByLabel("How long").selectOption("for_good");
    await owns.getByRole("button", { name: "Give access" }).dblclick();
    await expect(owns.getByText("Open for good.")).toBeVisible();
    await expectAccessible(page);
    await buyer.reload();
    await expect(workshop).toHaveText("The Gansey Workshop");

    await owns.getByRole("button", { name: "Revoke it" }).click();
    await page.getByRole("dialog").getByLabel("Why").fill("The fair was last year");
    await page.getByRole("dialog").getByRole("button", { name: "Revoke it" }).click();
    await expect(owns).toContainText("it was revoked: The fair was last year");
    await buyer.reload();
    await expect(workshop).toContainText("Write to");
    await expectAccessible(buyer);
  });

  test("is seen by whoever may only look, who can give nothing", async ({ page }) => {
    await signIn(page, "viewer");
    await open(page, `/desk/people?find=${email}`);
    await page.getByRole("link", { name: "Runa" }).first().click();
    await expect(page.getByRole("region", { name: "Owns" })).toContainText("it was revoked");
    await expect(page.getByText("Give access without an order")).toBeHidden();
    await expect(page.getByRole("button", { name: "Revoke it" })).toBeHidden();
  });
});
