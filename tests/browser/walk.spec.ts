import { readFileSync } from "node:fs";
import { expect, test, type BrowserContext, type Page } from "@playwright/test";
import Papa from "papaparse";
import sharp from "sharp";
import { wallTimeOf } from "../../src/core/launch";
import {
  advance,
  agree,
  appNow,
  at,
  awake,
  beginCheckout,
  cards,
  deskCharges,
  emails,
  expectAccessible,
  linkIn,
  open,
  payButton,
  payWith,
  sendWithoutLimits,
  signIn,
  stack,
  typeMoment,
  typeZone,
} from "./desk";

const zone = "Europe/Lisbon";
const slug = "herring-and-rope";
const hours = (from: Date, n: number) => wallTimeOf(new Date(from.getTime() + n * 3_600_000), zone);

/** The whole job, from an empty launch to the marketplace, in one order: each step stands on the one before. */
test.describe.serial("the walk", () => {
  let owner: BrowserContext;
  let desk: Page;
  let visitor: Page;
  test.beforeAll(async ({ browser }) => {
    owner = await browser.newContext();
    desk = await owner.newPage();
    visitor = await (await browser.newContext()).newPage();
  });
  test.afterAll(() => owner.close());

  test("1. the owner signs in, sees the launches, and starts one; what is wrong is said at the field", async () => {
    await desk.goto(at("/desk"));
    await desk.getByLabel("Email").fill("owner@marram.example");
    await desk.getByLabel("Password").fill("not the password");
    await desk.getByRole("button", { name: "Sign in" }).click();
    await expect(desk.getByRole("alert")).toHaveText("Address and password do not belong together.");
    await signIn(desk, "owner");
    await expect(desk.getByRole("heading", { name: "The Gansey Workshop" })).toBeVisible();
    await expect(desk.getByText(/Doors open; they close in [12] d/).first()).toBeVisible();
    await expectAccessible(desk);

    await open(desk, "/desk/new");
    const now = await appNow();
    await desk.getByLabel("Name", { exact: true }).fill("Herring and Rope");
    await desk.getByLabel("Main product").fill("Herring and Rope, the course");
    await desk.getByLabel("Price").fill("99.90");
    await desk.getByLabel("Tax").selectOption({ label: "added to the price" });
    await typeZone(desk, "Europe/Berlin");
    await typeMoment(desk, "Doors open", "2027-03-28T02:30");
    await expect(desk.getByText("The clocks in Europe/Berlin skip this time; it becomes 03:30 on 2027-03-28.")).toBeVisible();
    await typeZone(desk, "Europe/Nowhere");
    await typeMoment(desk, "Doors close", "2027-03-27T10:00");
    await desk.getByRole("button", { name: /^Start with/ }).click();
    await expect(desk.getByText("“Europe/Nowhere” is not a time zone of the IANA database, such as Europe/Lisbon.")).toBeVisible();
    await typeZone(desk, zone);
    await desk.getByRole("button", { name: /^Start with/ }).click();
    await expect(desk.getByText("The closing bell must ring after the opening bell.")).toBeVisible();
    await expectAccessible(desk);
    await typeMoment(desk, "Doors open", hours(now, 3));
    await typeMoment(desk, "Doors close", hours(now, 72));
    await desk.getByRole("button", { name: /^Start with/ }).click();
    await expect(desk).toHaveURL(at(`/desk/${slug}/score`));
  });

  test("2. the score says what every address answers at the playhead, and the strip turns bronze", async () => {
    const playhead = desk.getByRole("slider", { name: "Playhead" });
    const answers = () => desk.locator("li[data-address]").evaluateAll((rows) => rows.map((row) => (row as HTMLElement).dataset["answer"]));
    await awake(desk);
    await expect(playhead).toHaveAttribute("aria-valuetext", /Run-up/);
    const episodes = ["episodes/1", "episodes/2", "episodes/3"];
    expect(await answers()).toEqual(["optin", ...episodes, "optin", "optin", "redirect", "redirect", "closed"]);
    await playhead.focus();
    await desk.keyboard.press("Alt+ArrowRight");
    await expect(playhead).toHaveAttribute("aria-valuetext", /Doors open/);
    expect(await answers()).toEqual(["sales", ...episodes, "sales", "checkout", "redirect", "redirect", "closed"]);
    await expect(desk.getByRole("banner")).toContainText("by everyone");
    await expect(desk).toHaveURL(/at=/);
    // The last day, the last hour, the closing bell.
    for (const said of [/day 2 of 3/, /day 3 of 3/, /Doors closed/]) {
      await desk.keyboard.press("Alt+ArrowRight");
      await expect(playhead).toHaveAttribute("aria-valuetext", said);
    }
    expect(await answers()).toEqual(["closed", "closed", "closed", "closed", "closed", "closed", "redirect", "redirect", "closed"]);
    await desk.getByRole("button", { name: "At the checkout" }).click();
    expect((await answers())[5]).toBe("checkout");
    await expect(desk.getByRole("banner")).toContainText("by someone at the checkout");
    await desk.getByRole("button", { name: "Buyer" }).click();
    expect((await answers()).slice(6, 8)).toEqual(["offer", "thanks"]);
    await desk.reload();
    await awake(desk);
    await expect(playhead).toHaveAttribute("aria-valuetext", /Doors closed/);
    await playhead.focus();
    await desk.keyboard.press("Escape");
    await expect(playhead).toHaveAttribute("aria-valuetext", /Run-up/);
    await expectAccessible(desk);
  });

  test("3. pages are edited, previewed and published; before that nobody sees them and nothing charges", async () => {
    expect((await fetch(at(`/l/${slug}`))).status).toBe(404);
    await desk.goto(at(`/desk/${slug}/pages`));
    await expect(desk.getByRole("heading", { name: "5 gaps that visitors would meet" })).toBeVisible();
    await expectAccessible(desk);
    const headlines = {
      optin: "Rope, herring and wool.",
      sales: "Knit what the net makers wore.",
      checkout: "Your place",
      thanks: "Thank you, and cast on.",
      closed: "The net is hauled in.",
    };
    for (const [kind, headline] of Object.entries(headlines)) {
      await open(desk, `/desk/${slug}/pages/${kind}`);
      await desk.getByRole("button", { name: "Headline", exact: true }).first().click();
      await desk.getByRole("textbox", { name: "Headline", exact: true }).fill("");
      await expect(desk.getByText("The headline is empty.")).toBeVisible();
      await desk.getByRole("textbox", { name: "Headline", exact: true }).fill(headline);
      await expect(desk.getByRole("status").filter({ hasText: /^, saved$/ })).toBeVisible();
      await expect(desk.frameLocator("iframe[title='The page']").getByRole("heading", { level: 1 })).toHaveText(headline);
      await desk.getByRole("button", { name: "Publish this page" }).click();
      await desk.getByRole("button", { name: "Publish 1 page" }).click();
      await expect(desk.getByText("published as it stands")).toBeVisible();
    }
    await open(desk, `/desk/${slug}/pages/offer`);
    await desk.getByRole("button", { name: "Publish this page" }).click();
    await desk.getByRole("button", { name: "Publish 1 page" }).click();
    await expect(desk.getByText("This page stands on no step of the offer path")).toBeVisible();
    await desk.getByRole("link", { name: "Put it on the offer path" }).click();
    await awake(desk);
    await expect(desk.getByLabel("On the page")).toHaveValue(/./);
    await desk.getByLabel("Its name").fill("The rope patterns");
    await desk.getByLabel("Its price").fill("a few");
    await desk.getByRole("button", { name: "Add the step" }).click();
    await expect(desk.getByText("Give an amount, such as €17.00.")).toBeVisible();
    await desk.getByLabel("Its price").fill("29.00");
    await desk.getByRole("button", { name: "Add the step" }).click();
    await expect(desk.getByText("The page of The rope patterns is not published.")).toBeVisible();
    await desk.getByRole("button", { name: "Publish /offer" }).click();
    await expect(desk.getByText("published as it stands")).toBeVisible();
    await expect(desk.getByText("The page of The rope patterns is not published.")).toBeHidden();
    await expectAccessible(desk);

    // Access at once is the vendor's word; only with it are buyers asked to give up their right of withdrawal.
    await open(desk, "/desk/products");
    await desk.getByRole("button", { name: "Herring and Rope, the course" }).click();
    await desk.getByLabel(/Buyers get access at once/).check();
    await expect(desk.getByText("Saved.")).toBeVisible();
  });

  test("4. a visitor comes through a partner's link, opts in, and at the opening bell the same address opens by itself", async () => {
    await visitor.goto(at(`/l/${slug}?p=skerry`));
    await expect(visitor).toHaveURL(at(`/l/${slug}`));
    await expect(visitor.getByRole("heading", { level: 1 })).toHaveText("Rope, herring and wool.");
    await expect(visitor.getByText(/Doors open .* Lisbon time/)).toBeVisible();
    const figure = visitor.getByRole("timer");
    const before = await figure.textContent();
    await expect(figure).not.toHaveText(before!);
    await expectAccessible(visitor);
    await expect(visitor.getByRole("checkbox")).not.toBeChecked();
    await visitor.getByLabel("First name").fill("Runa");
    await visitor.getByLabel("Email").fill("Runa@Walk.example ");
    await visitor.getByRole("button").click();
    await expect(visitor.getByText(/Tick the box/)).toBeVisible();
    await expect(visitor.getByLabel("First name")).toHaveValue("Runa");
    await visitor.getByRole("checkbox").check();
    await visitor.getByRole("button").click();
    await expect(visitor.getByText("You are on the list.")).toBeVisible();
    await expect
      .poll(async () => (await emails("runa@walk.example")).map(({ subject }) => subject))
      .toEqual(["You are on the list for Herring and Rope"]);

    await visitor.goto(at(`/l/${slug}/checkout`));
    await expect(visitor.getByRole("heading", { level: 1 })).toHaveText("Rope, herring and wool.");
    const refused = await visitor.request.post(at(`/l/${slug}/do/start`), {
      form: { email: "runa@walk.example", firstName: "Runa", country: "PT" },
      headers: { origin: stack().origin },
    });
    expect(refused.status()).toBe(409);
    expect(await refused.text()).toContain("The doors are not open yet.");

    const opens = new Date(Number(await visitor.locator("[data-until]").getAttribute("data-until")));
    await advance((opens.getTime() - (await appNow()).getTime()) / 1000 - 4);
    await visitor.goto(at(`/l/${slug}`));
    await expect(visitor.getByRole("heading", { level: 1 })).toHaveText("Rope, herring and wool.");
    await expect(visitor.getByRole("heading", { level: 1 })).toHaveText("Knit what the net makers wore.", { timeout: 90_000 });
    await expectAccessible(visitor);
  });

  test("5. a buyer pays: a refusal keeps what was typed, the bank's question is answered, an offer is charged once", async () => {
    await visitor.getByRole("link", { name: "Go to the checkout" }).click();
    await visitor.getByLabel("Email").fill("runa@walk");
    await visitor.getByLabel("First name").fill("Runa");
    await visitor.getByRole("button", { name: "Go on to the payment" }).click();
    await expect(visitor.getByText("Choose your country: the tax depends on it.")).toBeVisible();
    await expect(visitor.getByLabel("First name")).toHaveValue("Runa");
    await beginCheckout(visitor, slug, "runa@walk.example");
    // 99.90 without tax, 23 % in Portugal.
    await expect(visitor.getByRole("row", { name: "To pay" })).toContainText("€122.88");
    await expectAccessible(visitor);
    await payButton(visitor).click();
    await expect(visitor.getByText("Tick this box: without it")).toBeVisible();
    await agree(visitor);
    await payButton(visitor).click();
    await expect(visitor.getByText("The card number is not complete, or a digit is wrong.")).toBeVisible();

    await payWith(visitor, cards.poor);
    await expect(visitor.getByText(/not enough on this card. Nothing was charged/)).toBeVisible();
    await expect(visitor.getByText("Runa, runa@walk.example, Portugal")).toBeVisible();
    await payWith(visitor, cards.asks);
    await expect(visitor.getByRole("heading", { name: "Is it you?" })).toBeVisible();
    await visitor.getByRole("button", { name: "Yes, pay" }).click();

    await expect(visitor.getByRole("heading", { level: 1 })).toHaveText("One thing more, only here.");
    await expectAccessible(visitor);
    const offer = visitor.url();
    await visitor.getByRole("button", { name: "Yes, add it to my order" }).dblclick();
    await visitor.getByRole("button", { name: "Yes, pay" }).click();
    await expect(visitor.getByRole("heading", { level: 1 })).toHaveText("Thank you, and cast on.");
    await expect(visitor.getByRole("row", { name: "The rope patterns" })).toContainText("€35.67");
    await expect(visitor.getByRole("row", { name: "Paid" })).toContainText("€158.55");
    await expectAccessible(visitor);
    await visitor.goto(offer);
    await expect(visitor.getByRole("heading", { level: 1 })).toHaveText("Thank you, and cast on.");
    const mine = (await deskCharges()).filter(({ idempotency_key, amount }) => idempotency_key.startsWith("offer:") && amount === 3_567);
    expect(mine.map(({ status }) => status)).toEqual(["succeeded"]);
    await expect.poll(async () => (await emails("runa@walk.example")).filter(({ subject }) => subject.startsWith("Your receipt")).length).toBe(1);
    expect((await emails("runa@walk.example")).at(-1)!.text).toContain("The rope patterns: €35.67");
  });

  test("5b. another buyer says no, thank you", async ({ browser }) => {
    const page = await (await browser.newContext()).newPage();
    await beginCheckout(page, slug, "no@walk.example", "Germany");
    await payWith(page, cards.good);
    await page.getByRole("button", { name: "No, thank you" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Thank you, and cast on.");
    await expect(page.getByRole("row", { name: "The rope patterns" })).toBeHidden();
    await page.context().close();
  });

  test("6. the money is booked and explained, and the partner sees what is pending", async ({ browser }) => {
    await desk.goto(at("/desk/money"));
    await expect(desk.getByRole("row", { name: /All accounts, EUR/ })).toContainText("€0.00");
    await expectAccessible(desk);
    await desk
      .getByRole("row", { name: /Runa.*The rope patterns/ })
      .getByRole("link")
      .click();
    const credit = desk.getByRole("complementary", { name: "Credit" });
    await expect(credit).toContainText("Skerry Yarns is credited by the rule last touch");
    // 40 % of 99.90 net.
    await expect(credit).toContainText("€39.96 on Herring and Rope, the course");
    await expect(desk.getByRole("cell", { name: "Payable to partners: Skerry Yarns" })).toHaveCount(2);
    await expectAccessible(desk);

    const portal = await (await browser.newContext()).newPage();
    await signIn(portal, "partner");
    await expect(portal.getByText(`/l/${slug}?p=skerry`)).toBeVisible();
    await expect(portal.getByRole("row", { name: /Herring and Rope, the course/ })).toContainText("€39.96");
    await expect(portal.getByText("Pending until the refund windows end")).toBeVisible();
    await expect(portal.getByText("runa@walk.example")).toHaveCount(0);
    await expectAccessible(portal);
    await portal.context().close();
  });

  test("7. a lost buyer gets one email, comes back through it, and counts as won back", async ({ browser }) => {
    const lost = await (await browser.newContext()).newPage();
    await beginCheckout(lost, slug, "lost@walk.example");
    await lost.context().close();
    // Whatever the hour at which this runs.
    await sendWithoutLimits(desk);
    await desk.goto(at(`/desk/${slug}/leaks`));
    await desk.getByLabel("Minutes after the last activity").fill("soon");
    await desk.getByRole("button", { name: "Set the delay" }).click();
    await expect(desk.getByText("Give a number.")).toBeVisible();
    await desk.getByLabel("Minutes after the last activity").fill("45");
    await desk.getByRole("button", { name: "Set the delay" }).click();
    await expect(desk.getByText("The new delay holds for every email that still waits")).toBeVisible();
    await advance(40 * 60);
    await new Promise((next) => setTimeout(next, 1_500));
    expect(await emails("lost@walk.example")).toEqual([]);
    await advance(6 * 60);
    await expect.poll(async () => (await emails("lost@walk.example")).length).toBe(1);
    const [email] = await emails("lost@walk.example");
    const link = linkIn(email!.text);

    const back = await (await browser.newContext()).newPage();
    await back.goto(link);
    await expect(back).toHaveURL(at(`/l/${slug}/checkout`));
    await expect(back.getByText("Runa, lost@walk.example, Portugal")).toBeVisible();
    await payWith(back, cards.good);
    await back.getByRole("button", { name: "No, thank you" }).click();
    await back.context().close();
    await desk.reload();
    await expect(desk.getByText("1 of 1, 100.0 % · €122.88")).toBeVisible();
    await expectAccessible(desk);
  });

  test("7b. an unsubscribe from an email stops the next one", async ({ browser }) => {
    const page = await (await browser.newContext()).newPage();
    await page.goto(at("/l/yoke"));
    await page.getByLabel("First name").fill("Stopper");
    await page.getByLabel("Email").fill("stop@walk.example");
    await page.getByRole("checkbox").check();
    await page.getByRole("button").click();
    await beginCheckout(page, slug, "stop@walk.example");
    const first = (await emails("runa@walk.example"))[0]!;
    expect(first.raw).toContain("List-Unsubscribe-Post: List-Unsubscribe=One-Click");
    const link = /http\S+unsubscribe\?u=[\w.-]+/.exec(first.text)![0];
    await page.goto(link);
    await expect(page.getByRole("heading", { name: "Which emails do you want?" })).toBeVisible();
    await expectAccessible(page);
    await page.getByRole("button", { name: "Unsubscribe from everything" }).click();
    await expect(page.getByRole("heading", { name: "You are unsubscribed." })).toBeVisible();
    // A mail program's own button posts without a browser's origin (RFC 8058).
    const oneClick = await fetch(link, {
      method: "POST",
      headers: { "content-type": "application/x-www-form-urlencoded" },
      body: "List-Unsubscribe=One-Click",
    });
    expect(oneClick.status).toBe(200);
    // One that sends nothing else means the same.
    expect((await fetch(link, { method: "POST" })).status).toBe(200);
    expect((await fetch(`${link}x`, { method: "POST" })).status).toBe(400);
    await page.context().close();
  });

  test("8. two audiences come from the event log, with a file of hashed addresses", async ({ browser }) => {
    const looker = await (await browser.newContext({ locale: "de-DE" })).newPage();
    await looker.goto(at(`/l/${slug}/join`));
    await looker.context().close();
    await expect
      .poll(async () => {
        await desk.goto(at(`/desk/${slug}/retarget`));
        const header = desk.locator("[data-audience=looked] header");
        // The sizes are counted once the screen stands.
        await expect(header).not.toContainText("Counting…");
        return header.textContent();
      })
      .toContain("1 person");
    await expect(desk.locator("[data-audience=looked]")).toContainText("Germany");
    await expect(desk.locator("[data-audience=unfinished] header")).toContainText("1 person");
    await expectAccessible(desk);

    await desk.goto(at("/desk/gansey/retarget"));
    const downloading = desk.waitForEvent("download");
    await desk
      .locator("[data-audience=unfinished]")
      .getByRole("link", { name: /Download \d+ hashed addresses/ })
      .click();
    const file = await (await downloading).path();
    const { data, errors } = Papa.parse<{ email_sha256: string; country: string }>(readFileSync(file, "utf8"), {
      header: true,
      skipEmptyLines: true,
    });
    expect(errors).toEqual([]);
    expect(data.length).toBeGreaterThan(20);
    for (const row of data) expect(row.email_sha256).toMatch(/^[0-9a-f]{64}$/);
  });

  test("9. the listing names its gaps, is submitted and approved, and a sale there is booked here once", async ({ browser }) => {
    await desk.goto(at("/desk/gansey/markets"));
    const status = (rule: string) => desk.locator(`[data-rule=${rule}]`);
    for (const rule of ["picture", "refund_window", "terms", "test_order"]) await expect(status(rule)).toHaveAttribute("data-status", "not_met");
    await expect(desk.getByRole("button", { name: "Submit to Slipway Market" })).toBeDisabled();
    await expectAccessible(desk);
    const picture = (width: number, height: number) =>
      sharp({ create: { width, height, channels: 3, background: "#1E4E79" } })
        .png()
        .toBuffer();
    const upload = (name: string, buffer: Buffer) =>
      desk.getByLabel("Picture, PNG, JPEG or WebP").setInputFiles({ name, mimeType: "image/png", buffer });
    await upload("no.png", Buffer.from("this is no picture"));
    await expect(desk.getByText("This is not a PNG, JPEG or WebP picture that can be read.")).toBeVisible();
    await upload("small.png", await picture(300, 200));
    await expect(desk.getByText("The picture is 300 × 200 pixels")).toBeVisible();
    await upload("right.png", await picture(1200, 800));
    await expect(status("picture")).toHaveAttribute("data-status", "met");
    await desk.getByLabel("Days to return The Gansey Workshop").fill("30");
    await desk.getByRole("button", { name: "Set the window" }).click();
    await expect(status("refund_window")).toHaveAttribute("data-status", "met");
    await desk.getByRole("button", { name: "Accept the terms of Slipway Market" }).click();
    await expect(status("terms")).toHaveAttribute("data-status", "met");
    await desk.getByRole("button", { name: "Make a test order at Slipway Market" }).click();
    const till = async (page: Page, email: string, button: string) => {
      await page.getByLabel("Email").fill(email);
      await page.getByLabel("First name").fill("Mar");
      await page.getByLabel("Card number").fill(cards.good);
      await page.getByRole("button", { name: button }).click();
      await expect(page.getByRole("heading", { name: "Thank you." })).toBeVisible();
    };
    await till(desk, "owner@marram.example", "Make the test order");
    await expect
      .poll(async () => {
        await desk.goto(at("/desk/gansey/markets"));
        return status("test_order").getAttribute("data-status");
      })
      .toBe("met");
    await desk.getByRole("button", { name: "Submit to Slipway Market" }).click();
    await expect(desk.getByText("Submitted, under review")).toBeVisible();

    const outside = await (await browser.newContext()).newPage();
    await outside.goto(`${stack().MARKET_URL}/review`);
    await outside.getByRole("button", { name: "Approve" }).click();
    await expect
      .poll(async () => {
        await desk.goto(at("/desk/gansey/markets"));
        return desk.locator("[data-state]").textContent();
      })
      .toBe("Live in the catalogue");
    await desk.getByRole("link", { name: /\/order\// }).click();
    await till(desk, "market@walk.example", "Pay");
    await expect
      .poll(async () => {
        await desk.goto(at("/desk/gansey/markets"));
        return desk.locator("[data-market-orders]").textContent();
      })
      .toBe("1");
    // 7.9 % of 149.00 is the marketplace's.
    await expect(desk.getByRole("complementary", { name: "Orders on the marketplace" })).toContainText("€137.23");
    await expect(desk.getByRole("complementary", { name: "Orders on the marketplace" })).toContainText("€11.77");
    await expectAccessible(desk);
    await outside.context().close();
  });
});
