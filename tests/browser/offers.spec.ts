import { expect, test, type Browser, type Page } from "@playwright/test";
import { wallTimeOf } from "../../src/core/launch";
import { appNow, at, awake, beginCheckout, cards, deskCharges, expectAccessible, open, payWith, signIn, typeMoment, typeZone } from "./desk";

const slug = "cable-and-purl";

test.describe.serial("the offers of a launch, from nothing, on one screen", () => {
  let desk: Page;
  test.beforeAll(async ({ browser }) => {
    desk = await (await browser.newContext()).newPage();
    await signIn(desk, "owner");
    await open(desk, "/desk/new");
    const now = await appNow();
    const hours = (n: number) => wallTimeOf(new Date(now.getTime() + n * 3_600_000), "Europe/Lisbon").slice(0, 16);
    await desk.getByLabel("Name", { exact: true }).fill("Cable and Purl");
    await desk.getByLabel("Main product").fill("Cable and Purl, the course");
    await desk.getByLabel("Price").fill("149.00");
    await typeZone(desk, "Europe/Lisbon");
    await typeMoment(desk, "Doors open", hours(-2));
    await typeMoment(desk, "Doors close", hours(40 * 24));
    await desk.getByRole("button", { name: /^Start with/ }).click();
    await expect(desk).toHaveURL(at(`/desk/${slug}/score`));
    for (const kind of ["sales", "thanks"]) {
      await open(desk, `/desk/${slug}/pages/${kind}`);
      await desk.getByRole("button", { name: "Publish this page" }).click();
      await desk.getByRole("button", { name: "Publish 1 page" }).click();
      await expect(desk.getByText("published as it stands")).toBeVisible();
    }
  });
  test.afterAll(() => desk.close());

  const station = (name: string) => desk.getByRole("figure", { name: "The offer path" }).getByRole("button", { name: new RegExp(`^(! )?${name}`) });
  const add = async (spot: string, name: string, price: string) => {
    await desk.getByRole("button", { name: spot }).click();
    await desk.getByLabel("Its name").fill(name);
    await desk.getByLabel("Its price").fill(price);
    await desk.getByRole("button", { name: "Add the step" }).click();
    await expect(station(name)).toHaveAttribute("aria-pressed", "true");
  };
  const publish = async (address: string) => {
    await desk.getByRole("button", { name: `Publish /${address}` }).click();
    await expect(desk.getByRole("button", { name: `Publish /${address}` })).toBeHidden();
  };
  const buyer = async (browser: Browser, name: string, card = cards.good): Promise<Page> => {
    const page = await (await browser.newContext()).newPage();
    await beginCheckout(page, slug, `${name}@offers.example`);
    await payWith(page, card);
    return page;
  };
  const title = (page: Page) => page.getByRole("heading", { level: 1 });

  test("a bump, an offer, its downsell and one more offer are laid, each in one go", async () => {
    await open(desk, `/desk/${slug}/offers`);
    await desk.getByRole("button", { name: "Add a bump" }).click();
    await desk.getByLabel("The bump's name").fill("Chart paper");
    await desk.getByLabel("The bump's price").fill("17.00");
    await desk.getByRole("button", { name: "Put it beside the checkout" }).click();
    await desk.getByLabel("Beside the box").fill("Yes, the paper too.");
    await desk.getByLabel("The order button says").fill("Complete my order");
    await expect(desk.getByRole("button", { name: "Publish the checkout" })).toBeEnabled();
    await desk.getByRole("button", { name: "Publish the checkout" }).click();
    await expect(desk.getByText("published as it stands")).toBeVisible();

    await add("Add a step after the checkout", "Stitch Library", "67.00");
    await publish("stitch-library");
    await add("Add a step on the no rail of Stitch Library", "Library Lite", "69.00");
    await expect(desk.getByText("Library Lite costs no less than Stitch Library, which was just declined.")).toBeVisible();
    await desk.getByLabel("Price, EUR", { exact: true }).fill("29.00");
    await desk.getByLabel("Yes says").fill("Yes, the small library");
    await expect(desk.getByText("Library Lite costs no less")).toBeHidden();
    await expect(desk.getByRole("button", { name: "Publish /library-lite" })).toBeEnabled();
    await publish("library-lite");
    await add("Add a step for everybody before the thank-you page", "Evenings", "12.00");
    await publish("evenings");
    await station("Checkout").click();
    await expect(desk.getByText("“Complete my order” closes the deal, but offers follow.")).toBeVisible();
    await expectAccessible(desk);
    // Every route: yes or no, with or without the smaller one, and then the evenings.
    await station("Thank you").click();
    await expect(desk.getByText("6 ways lead here.")).toBeVisible();
  });

  test("what it should earn follows its levers, and a million simulated buyers agree", async () => {
    await open(desk, `/desk/${slug}/offers`);
    const pays = desk.locator("dl dd").first();
    // 149 + 0.3·17 + 0.2·67 + 0.8·0.15·29 + 0.2·12, as usually assumed.
    await expect(pays).toHaveText("€173.38");
    await desk.getByLabel("Stitch Library: take rate, in percent").fill("50");
    await expect(pays).toContainText("€192.18 +€18.80");
    await desk.getByRole("button", { name: "Simulate 1,000,000 buyers" }).click();
    await expect(desk.getByText(/^Simulated average €19\d\.\d\d, give or take €0\.\d\d: agrees with the exact figure\.$/)).toBeVisible();
    await desk.getByLabel("Compare with").selectOption({ label: "no offers at all" });
    await expect(pays).toContainText("€192.18 +€38.08");
    await expect(desk.getByRole("figure", { name: "This path, drawn" }).getByText("Stitch Library", { exact: true })).toBeVisible();
    const other = desk.getByRole("region", { name: "No offers at all" });
    await expect(other.getByText("Average order value €154.10")).toBeVisible();
    await expect(other.getByRole("figure", { name: "No offers at all, drawn" })).toBeVisible();
    await desk.getByRole("button", { name: "Save these rates as assumptions" }).click();
    await expect(desk.getByText("Kept as what is assumed.")).toBeVisible();
    await desk.reload();
    await awake(desk);
    await expect(pays).toHaveText("€192.18");
  });

  test("buyers walk it: yes at once, no and the smaller one, a bank that asks, and a return by the link to the very offer", async ({ browser }) => {
    const yes = await buyer(browser, "yes");
    await yes.getByRole("button", { name: "Yes, add it to my order" }).dblclick();
    await expect(yes).toHaveURL(/\/evenings\?/);
    await yes.getByRole("button", { name: "No, thank you" }).click();
    await expect(yes.getByRole("row", { name: "Paid" })).toContainText("€216.00");

    const asks = await buyer(browser, "asks", cards.asks);
    await asks.getByRole("button", { name: "Yes, pay" }).click();
    await asks.getByRole("button", { name: "No, thank you" }).click();
    await expect(asks).toHaveURL(/\/library-lite\?/);
    const left = asks.url();
    await asks.context().close();
    const back = await (await browser.newContext()).newPage();
    await back.goto(left);
    // Whoever has the link sees the order; its stored card is charged from the buyer's own browser alone.
    await expect(back.getByText("Your stored card is offered in your own browser only.")).toBeVisible();
    await expect(back.getByText("0037")).toHaveCount(0);
    await expectAccessible(back);
    await payWith(back, cards.asks);
    await back.getByRole("button", { name: "Yes, pay" }).click();
    await expect(back).toHaveURL(/\/evenings\?/);
    await payWith(back, cards.asks);
    await back.getByRole("button", { name: "No, stop the payment" }).click();
    await expect(back.getByText(/could not confirm that it was you. Nothing was charged/)).toBeVisible();
    await back.getByRole("button", { name: "No, thank you" }).click();
    await expect(back.getByRole("row", { name: "Paid" })).toContainText("€178.00");
    expect((await deskCharges()).filter(({ amount, status }) => amount === 2_900 && status === "succeeded")).toHaveLength(1);
  });

  test("a step inserted while a buyer is in the middle is for those who come after, and “sure?” is asked where it is wanted", async ({ browser }) => {
    const early = await buyer(browser, "early");
    await expect(title(early)).toBeVisible();
    await expect(early).toHaveURL(/\/stitch-library\?/);
    await open(desk, `/desk/${slug}/offers`);
    await expect(desk.getByText("1 of 2, 50 %").first()).toBeVisible();
    await add("Add a step for everybody before Evenings", "Wool samples", "9.00");
    await desk.getByLabel(/Ask “sure\?”/).check();
    await publish("wool-samples");
    await expect(desk.locator("[data-walking]")).toContainText("1 buyer is still on version 3");
    await early.getByRole("button", { name: "Yes, add it to my order" }).click();
    await expect(early).toHaveURL(/\/evenings\?/);

    const late = await buyer(browser, "late");
    await late.getByRole("button", { name: "Yes, add it to my order" }).click();
    await expect(late).toHaveURL(/\/wool-samples\?/);
    await late.getByRole("button", { name: "Yes, add it to my order" }).click();
    await expect(late.getByText("Are you sure?")).toBeVisible();
    await expectAccessible(late);
    await late.getByRole("button", { name: "Yes, charge €9.00" }).click();
    await expect(late).toHaveURL(/\/evenings\?/);
    await late.getByRole("button", { name: "No, thank you" }).click();
    await expect(late.getByRole("row", { name: "Wool samples" })).toContainText("€9.00");
  });

  test("a coupon is made at the desk, comes with a link, and is taken off the price that is charged; a business pays no tax", async ({ page }) => {
    await open(desk, "/desk/coupons");
    await desk.getByLabel("Label, for the desk").fill("The autumn email");
    await desk.getByLabel("Percent").fill("150");
    await desk.getByLabel("Code", { exact: true }).fill("autumn-10");
    await desk.getByRole("button", { name: "Make the coupon" }).click();
    await expect(desk.getByText("Percent, such as 10 or 12.5; 100 at most.")).toBeVisible();
    await desk.getByLabel("Percent").fill("10");
    await desk.getByRole("button", { name: "Make the coupon" }).click();
    await expect(desk.getByRole("row", { name: /AUTUMN-10/ })).toContainText("10 % off");
    await expectAccessible(desk);

    await page.goto(at(`/l/${slug}?coupon=autumn-10`));
    await expect(page).toHaveURL(at(`/l/${slug}`));
    await page.goto(at(`/l/${slug}/checkout`));
    await page.getByLabel("Email").fill("firm@offers.example");
    await page.getByLabel("First name").fill("Firm");
    await page.getByLabel("Country").selectOption({ label: "Germany" });
    await page.getByText("Buying for a business?").click();
    await page.getByLabel("VAT number").fill("DE12");
    await page.getByRole("button", { name: "Go on to the payment" }).click();
    await expect(page.getByText("This is no VAT number of that country")).toBeVisible();
    await page.getByLabel("VAT number").fill("DE 123 456 788");
    await page.getByRole("button", { name: "Go on to the payment" }).click();
    // 149.00 less 10 % is 134.10, and without the 19 % in it 112.69.
    await expect(page.getByRole("row", { name: "To pay" })).toContainText("€112.69");
    await expectAccessible(page);
    await page.getByRole("button", { name: "Remove the code AUTUMN-10" }).click();
    await expect(page.getByRole("row", { name: "To pay" })).toContainText("€125.21");
    // A code is judged while a card is half typed.
    const typed = page.frameLocator("iframe.cardfield").getByLabel("Card number");
    await typed.fill("9990");
    await page.getByText("Have a code?").click();
    await page.getByRole("textbox", { name: /^Code/ }).fill("summer");
    await page.getByRole("button", { name: "Apply" }).click();
    await expect(page.getByText("This code is not known.")).toBeVisible();
    await expect(page.getByRole("textbox", { name: /^Code/ })).toBeFocused();
    await page.getByRole("textbox", { name: /^Code/ }).fill("Autumn-10");
    await page.getByRole("textbox", { name: /^Code/ }).press("Enter");
    await expect(page.getByRole("row", { name: /Discount, code AUTUMN-10/ })).toContainText("−€12.52");
    await expect(page.getByRole("row", { name: "To pay" })).toContainText("€112.69");
    await expect(typed).toHaveValue("9990");
    await payWith(page, cards.good);
    await page.getByRole("button", { name: "No, thank you" }).click();
    await page.getByRole("button", { name: "No, thank you" }).click();
    while (!page.url().includes("/thank-you")) await page.getByRole("button", { name: "No, thank you" }).click();
    await expect(page.getByRole("row", { name: "Paid" })).toContainText("€112.69");
    await expect(page.getByText("Reverse charge: DE123456788 accounts for the tax.")).toBeVisible();
    await desk.reload();
    await expect(desk.getByRole("row", { name: /AUTUMN-10/ })).toContainText("€14.90");
  });

  test("a product is changed in its own room, and a rate of tax in its table", async () => {
    await open(desk, "/desk/products");
    await desk.getByLabel("Find in products").fill("library lite");
    await desk.getByRole("button", { name: "Library Lite", exact: true }).click();
    await desk.getByLabel("Refund window, days").fill("a month");
    await desk.getByLabel("Refund window, days").blur();
    await expect(desk.getByRole("alert")).toBeVisible();
    await desk.getByLabel("Refund window, days").fill("45");
    await desk.getByLabel("Refund window, days").blur();
    await expect(desk.getByText("Saved.")).toBeVisible();
    await desk.reload();
    await awake(desk);
    await expect(desk.getByLabel("Refund window, days")).toHaveValue("45");
    await expectAccessible(desk);
    await open(desk, "/desk/tax");
    await desk.getByLabel("Country", { exact: true }).selectOption({ label: "Iceland" });
    await desk.getByLabel("Rate, percent").fill("24");
    await typeMoment(desk, "Valid from", "2015-01-01");
    await desk.getByRole("button", { name: "Add the rate" }).click();
    await expect(desk.getByRole("row", { name: /Iceland/ })).toContainText("24 %");
    await expectAccessible(desk);
    await desk.getByRole("button", { name: "Remove Iceland, standard, from 2015-01-01" }).click();
    await expect(desk.getByRole("row", { name: /Iceland/ })).toHaveCount(0);
  });

  test("is undone step by step, and who may only look changes nothing", async ({ page }) => {
    await open(desk, `/desk/${slug}/offers`);
    await desk.getByRole("button", { name: "Undo" }).click();
    await expect(desk.getByText("As it was in version 4. New buyers walk version 6.")).toBeVisible();
    await desk.getByRole("button", { name: "Undo" }).click();
    await expect(station("Wool samples")).toHaveCount(0);
    await signIn(page, "viewer");
    await open(page, `/desk/${slug}/offers`);
    await expect(page.getByRole("button", { name: /^Add a step/ })).toHaveCount(0);
    await expect(page.getByRole("button", { name: "Undo" })).toHaveCount(0);
  });
});
