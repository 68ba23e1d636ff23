import { expect, test, type Page } from "@playwright/test";
import { agree, at, beginCheckout, cardDesk, cards, deskCharges, expectAccessible, emails, open, payWith, signIn } from "./desk";

const refuseOffers = async (buyer: Page): Promise<void> => {
  for (let n = 0; n < 2; n += 1) await buyer.getByRole("button", { name: "No, thank you" }).click();
  await expect(buyer.getByText(/Receipt, order/)).toBeVisible();
};

test.describe.serial("a buyer's library", () => {
  const email = "library@walk.example";
  test("is opened by the link of an email, shows the order, and takes a password", async ({ browser }) => {
    const buyer = await (await browser.newContext()).newPage();
    await beginCheckout(buyer, "gansey", email);
    await buyer.getByLabel("Region").selectOption({ label: "Madeira" });
    await expect(buyer.getByRole("row", { name: "incl. VAT, 22 %" })).toContainText("€26.87");
    await payWith(buyer, cards.good);
    await refuseOffers(buyer);

    const other = await (await browser.newContext()).newPage();
    await other.goto(at("/library"));
    await expect(other).toHaveURL(at("/library/sign-in"));
    await expectAccessible(other);
    await other.getByLabel("Email, as on your orders").fill("not an address");
    await other.getByRole("button", { name: "Send me a link" }).click();
    // The browser itself holds back what is no address.
    await expect(other.getByRole("status")).toBeHidden();
    await other.getByLabel("Email, as on your orders").fill(email);
    await other.getByRole("button", { name: "Send me a link" }).click();
    await expect(other.getByRole("status")).toContainText(email);
    const link = async () => (await emails(email)).find(({ subject }) => subject === "The link to your library")?.text;
    await expect.poll(link).toContain("/library/open?t=");
    const address = /http\S+\/library\/open\?t=\S+/.exec((await link())!)![0];
    // A program that looks at mail opens the link, and uses nothing up.
    for (let n = 0; n < 2; n += 1) expect((await fetch(address)).status).toBe(200);
    await other.goto(address);
    await expect(other.getByText("l…@w….example")).toBeVisible();
    await expectAccessible(other);
    await other.getByRole("button", { name: "Open my library" }).click();
    await expect(other).toHaveURL(at("/library"));
    // It holds once: forwarded, or found in a history, it opens nothing.
    const late = await (await browser.newContext()).newPage();
    await late.goto(address);
    await late.getByRole("button", { name: "Open my library" }).click();
    await expect(late.getByText("This link is not valid any more. Ask for another below.")).toBeVisible();
    await expect(other.getByRole("row", { name: "Total, tax included" })).toContainText("€149.00");
    await expectAccessible(other);
    await other.getByLabel("New password, ten characters at least").fill("garter stitch all round");
    await other.getByRole("button", { name: "Set this password" }).click();
    await expect(other.getByText("Your password is set.")).toBeVisible();
    await other.getByRole("link", { name: "Open this order" }).click();
    await expect(other.getByText(/Receipt, order/)).toBeVisible();

    await other.goto(at("/library"));
    await other.getByRole("button", { name: "Sign out" }).click();
    await other.goto(at("/library"));
    await expect(other).toHaveURL(at("/library/sign-in"));
  });

  test("lets its buyer in at the checkout of another browser: address and card are there", async ({ page }) => {
    await page.goto(at("/l/gansey/checkout"));
    await page.getByRole("link", { name: "Sign in" }).click();
    await page.getByLabel("Email, as on your orders").fill(email);
    await page.getByText("With a password, if you have set one").click();
    await page.getByLabel("Password").fill("not the password");
    await page.getByRole("button", { name: "Sign in" }).click();
    await expect(page.getByRole("alert")).toHaveText("Address and password do not belong together.");
    await page.getByLabel("Password").fill("garter stitch all round");
    await page.keyboard.press("Enter");
    await expect(page).toHaveURL(at("/l/gansey/checkout"));
    await expect(page.getByText(`Signed in as ${email}.`)).toBeVisible();
    // Nothing is left to be asked for: one screen, with what is known folded into a line.
    await expect(page.getByLabel("Email")).toHaveValue(email);
    await expect(page.getByText(new RegExp(`, ${email}, .* · Change$`))).toBeVisible();
    await agree(page);
    await page.getByRole("button", { name: /with the card ending in 0003$/ }).click();
    await refuseOffers(page);
    await page.goto(at("/library"));
    await expect(page.getByRole("link", { name: "Open this order" })).toHaveCount(2);
  });
});

test("goods that are sent: the card is held at the order, and charged by one press when they go out", async ({ page, browser }) => {
  await signIn(page, "owner");
  await open(page, "/desk/products");
  await page.getByRole("button", { name: "Chart Paper Pack" }).click();
  await page.getByLabel("Type", { exact: true }).selectOption({ label: "something that is sent" });
  await page.getByLabel("The card is charged").selectOption("when_sent");
  await expect(page.getByText("Saved.")).toBeVisible();
  await page.reload();
  await expect(page.getByLabel("The card is charged")).toHaveValue("when_sent");

  const buyer = await (await browser.newContext()).newPage();
  await beginCheckout(buyer, "gansey", "held@walk.example");
  await buyer.getByLabel(/Yes, put the paper in/).check();
  await expect(buyer.getByText("Your card is authorized now, and charged when your order ships.")).toBeVisible();
  await payWith(buyer, cards.good);
  await refuseOffers(buyer);
  await expect(buyer.getByText("€166.00 of it: authorized on your card")).toBeVisible();
  const charged = async () => (await deskCharges()).filter(({ amount }) => amount === 16_600).map(({ status }) => status);
  expect(await charged()).toEqual(["authorized"]);

  await open(page, "/desk/orders");
  await page.getByLabel("Name, address, product or number").fill("held@walk.example");
  await expect(page.getByText("1 order", { exact: true })).toBeVisible();
  await page.getByRole("row", { name: /Runa/ }).getByRole("link").click();
  await expect(page.getByRole("cell", { name: "authorized, not captured yet" })).toBeVisible();
  await expect(page.getByRole("heading", { name: "Ledger" })).toBeHidden();
  await expectAccessible(page);
  await cardDesk("deaf");
  await page.getByRole("button", { name: "Capture €166.00 and mark as sent" }).click();
  await expect(page.getByText("The processor has not captured all of it.")).toBeVisible();
  await cardDesk("well");
  await expect
    .poll(
      async () => {
        await page.reload();
        return page.getByRole("cell", { name: "succeeded" }).count();
      },
      { timeout: 90_000, intervals: [2_000] },
    )
    .toBe(1);
  await expect(page.getByText("Goods sent")).toBeVisible();
  await expect(page.getByRole("heading", { name: "Ledger" })).toBeVisible();
  expect(await charged()).toEqual(["succeeded"]);

  await open(page, "/desk/products");
  await page.getByRole("button", { name: "Chart Paper Pack" }).click();
  await page.getByLabel("Type", { exact: true }).selectOption({ label: "a file to download" });
  await expect(page.getByText("Saved.")).toBeVisible();
});
