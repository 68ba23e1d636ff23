import { expect, test, type Page } from "@playwright/test";
import { at, cards, deskCharges, expectAccessible, emails, open, payWith, signIn } from "./desk";

const fill = async (page: Page, email: string, country = "Portugal") => {
  await page.getByLabel("Email").fill(email);
  await page.getByLabel("First name").fill("Tess");
  await page.getByLabel("Country").selectOption({ label: country });
};

test.describe.serial("an always-on launch with a club, as its vendor proves and runs it", () => {
  let desk: Page;
  test.beforeAll(async ({ browser }) => {
    desk = await (await browser.newContext()).newPage();
    await signIn(desk, "owner");
  });
  test.afterAll(() => desk.close());

  test("every way is walked in test mode from the offers' own screen, and its orders count nowhere", async () => {
    await open(desk, "/desk/primer/offers");
    const paid = await desk.getByRole("button", { name: /^Checkout/ }).textContent();
    await expect(desk.locator("[data-tried]")).toContainText("Nobody has tried this version out yet.");
    for (const decision of ["No, thank you", "Yes, add it to my order"]) {
      const [walk] = await Promise.all([desk.context().waitForEvent("page"), desk.getByRole("link", { name: "Test as a buyer" }).click()]);
      await expect(walk.getByText("Test mode.")).toBeVisible();
      await fill(walk, "tess@tries.example");
      await walk.getByRole("button", { name: /Go on/ }).click();
      await payWith(walk, cards.good);
      await expect(walk.getByText("Then €12.00 every month, until you cancel, starting in 14 days.")).toBeVisible();
      await expectAccessible(walk);
      await walk.getByRole("button", { name: decision }).click();
      // This offer asks once more before it charges, and the strip stays in sight.
      if (decision.startsWith("Yes")) await walk.getByRole("button", { name: /^Yes, charge/ }).click();
      await expect(walk.getByText(/Receipt, order/)).toBeVisible();
      await expect(walk.getByText("Test mode.")).toBeVisible();
      await walk.getByRole("link", { name: "Leave it" }).click();
      await expect(walk.getByText("Test mode.")).toBeHidden();
      await walk.close();
    }
    await open(desk, "/desk/primer/offers");
    await expect(desk.locator("[data-tried]")).toContainText("2 of 2 ways walked to the end");
    await desk.getByRole("button", { name: "Show the routes not tested" }).click();
    await expect(desk.getByText("✓ walked")).toHaveCount(2);
    await expect(desk.getByRole("button", { name: /^Checkout/ })).toHaveText(paid!);
    await expectAccessible(desk);
    await desk.goto(at("/desk/orders?state=test"));
    await expect(desk.getByRole("row", { name: /Tess/ })).toHaveCount(2);
    await desk.goto(at("/desk/orders?search=tess"));
    await expect(desk.getByText("No order fits")).toBeVisible();
    await expectAccessible(desk);
  });

  test("a price gets its terms on the product's own pane, refused at the field where they make no sense", async () => {
    await open(desk, "/desk/products");
    await desk.getByRole("button", { name: "Mittens in a Weekend" }).click();
    await desk.getByLabel("Price type").selectOption({ label: "in equal parts" });
    await expect(desk.getByText("Buyers read: €16.34 now, then 2 times €16.33, one every month.")).toBeVisible();
    await desk.getByLabel("Parts").fill("1");
    await desk.getByLabel("Parts").blur();
    await expect(desk.getByText("2 at least.")).toBeVisible();
    await desk.getByLabel("Parts").fill("4");
    await desk.getByLabel("Parts").blur();
    await expect(desk.getByText("Saved.")).toBeVisible();
    await desk.getByText("Prices in other currencies").click();
    await desk.getByLabel("USD").fill("lots");
    await desk.getByLabel("USD").blur();
    await expect(desk.getByText("Give an amount, such as US$17.00.")).toBeVisible();
    await desk.getByLabel("USD").fill("59.00");
    await desk.getByLabel("USD").blur();
    await expect(desk.getByText("Give an amount, such as")).toBeHidden();
    await desk.reload();
    await expect(desk.getByLabel("Parts")).toHaveValue("4");
    await expect(desk.getByLabel("USD")).toHaveValue("59.00");
    await expectAccessible(desk);
  });
});

test.describe.serial("an order at the desk", () => {
  test("is found, given back in part by line, and its receipt sent again", async ({ page, browser }) => {
    const buyer = await (await browser.newContext()).newPage();
    await buyer.goto(at("/l/gansey/checkout"));
    await fill(buyer, "refund@walk.example");
    await buyer.getByRole("button", { name: "Go on to the payment" }).click();
    await buyer.getByLabel("Currency").selectOption("USD");
    await expect(buyer.getByRole("row", { name: "To pay" })).toContainText("US$169.00");
    await payWith(buyer, cards.good);
    await buyer.getByRole("button", { name: "No, thank you" }).click();
    await buyer.getByRole("button", { name: "No, thank you" }).click();
    await expect(buyer.getByText(/Receipt, order/)).toBeVisible();
    await expect.poll(async () => (await emails("refund@walk.example")).length).toBe(1);

    await signIn(page, "owner");
    await open(page, "/desk/orders");
    await page.getByLabel("Name, address, product or number").fill("refund@walk.example");
    await expect(page.getByText("1 order", { exact: true })).toBeVisible();
    await page.getByRole("row", { name: /Tess/ }).getByRole("link").click();
    await expect(page.getByRole("heading", { level: 1 })).toContainText("Order");
    await expectAccessible(page);
    await page.locator("summary", { hasText: /^Refund$/ }).click();
    await page.getByLabel(/^The Gansey Workshop, up to/).fill("500");
    await page.getByRole("button", { name: "Refund to the card" }).click();
    await expect(page.getByText("Say why; only the desk reads this.")).toBeVisible();
    await page.getByLabel("Reason").fill("The wool was felted");
    await page.getByRole("button", { name: "Refund to the card" }).click();
    await expect(page.getByText("Above zero, and no more than the US$169.00 that are left.")).toBeVisible();
    await page.getByLabel(/^The Gansey Workshop, up to/).fill("69.00");
    await page.getByRole("button", { name: "Refund to the card" }).click();
    await expect(page.getByRole("row", { name: /The wool was felted/ })).toContainText("US$69.00");
    // What was done is said, and the focus does not fall to the head of the page.
    await expect(page.locator("main")).toBeFocused();
    await expect(page.getByRole("cell", { name: "Refunds", exact: true })).toBeVisible();
    await page.getByRole("button", { name: "Send the receipt again" }).click();
    await expect.poll(async () => (await emails("refund@walk.example")).length).toBe(2);
    expect((await deskCharges()).filter(({ amount }) => amount === 16_900)).toHaveLength(1);
  });

  test("that was paid by transfer is entered by hand, with what is missing said at each field", async ({ page }) => {
    await signIn(page, "owner");
    await open(page, "/desk/orders/enter");
    await page.getByRole("button", { name: "Enter the order" }).click();
    await expect(page.getByText("Choose a product.")).toBeVisible();
    await page.locator("#work").getByLabel("Launch").selectOption({ label: "The Gansey Workshop" });
    await page.getByLabel("Product").selectOption({ label: "Stitch Library Lite" });
    await expect(page.getByLabel("Total paid, EUR")).toHaveValue("29.00");
    await page.getByLabel("Payment method").fill("Bank transfer");
    await page.getByLabel("Buyer's first name").fill("Torvald");
    await page.getByLabel("Buyer's email").fill("torvald@walk.example");
    await page.getByLabel("Buyer's country").selectOption({ label: "Norway" });
    await page.getByRole("button", { name: "Enter the order" }).click();
    await expect(page.getByText("Entered by hand: Bank transfer.")).toBeVisible();
    await expect(page.getByRole("cell", { name: "Bank, entered by hand" })).toBeVisible();
    await expect.poll(async () => (await emails("torvald@walk.example")).length).toBe(1);
    await expectAccessible(page);
  });
});

test("a checkout on one page sums with the tax of the country while a card is half typed", async ({ page, browser }) => {
  const desk = await (await browser.newContext()).newPage();
  await signIn(desk, "owner");
  await open(desk, "/desk/mittens/offers");
  await desk.getByLabel("Checkout steps").selectOption("one");
  await desk.getByLabel("Buyers say how many they want.").check();
  await expect(desk.getByText("not published: nothing can be paid")).toBeVisible();
  await expect(desk.getByText(/saving…|not saved yet/)).toBeHidden();
  const [walk] = await Promise.all([desk.context().waitForEvent("page"), desk.getByRole("link", { name: "Test as a buyer" }).click()]);
  const number = walk.frameLocator("iframe[name=card]").getByLabel("Card number");
  await number.fill("9990");
  await walk.getByLabel("Country").selectOption({ label: "Germany" });
  await expect(walk.getByRole("row", { name: "incl. VAT" })).toContainText("19 %");
  await walk.getByLabel("Country").selectOption({ label: "Portugal" });
  await expect(walk.getByRole("row", { name: "incl. VAT" })).toContainText("23 %");
  await walk.getByLabel("Quantity").fill("2");
  await walk.getByLabel("Quantity").blur();
  await expect(walk.getByRole("rowheader", { name: "2 × Mittens in a Weekend" })).toBeVisible();
  // The country that is chosen still counts, though nobody has said it yet.
  await expect(walk.getByRole("row", { name: "incl. VAT" })).toContainText("23 %");
  await walk.getByLabel("Region").selectOption({ label: "Azores" });
  await expect(walk.getByRole("row", { name: "incl. VAT" })).toContainText("16 %");
  await expect(number).toHaveValue("9990");
  await expectAccessible(walk);
  await fill(walk, "two@tries.example");
  await payWith(walk, cards.good);
  await expect(walk.getByText(/Receipt, order/)).toBeVisible();
  await expect(page.getByText("Test mode.")).toBeHidden();
});
