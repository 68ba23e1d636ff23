import sharp from "sharp";
import { expect, test, type Page } from "@playwright/test";
import { wallTimeOf } from "../../src/core/launch";
import { appNow, at, awake, expectAccessible, emails, open, signIn, typeMoment } from "./desk";

/** Counts what a person does by hand. */
const counting = (page: Page) => {
  let actions = 0;
  const did = async (what: Promise<unknown>) => {
    actions += 1;
    await what;
  };
  return {
    press: (name: string | RegExp, role: "button" | "link" = "button") =>
      did(
        page
          .getByRole(role, { name, exact: typeof name === "string" })
          .first()
          .click(),
      ),
    fill: (label: string, text: string) => did(page.getByRole("textbox", { name: label, exact: true }).fill(text)),
    choose: (label: string, option: string) => did(page.getByLabel(label, { exact: true }).selectOption({ label: option })),
    get actions() {
      return actions;
    },
  };
};
const saved = (desk: Page) => expect(desk.getByRole("status").filter({ hasText: /^, saved$/ })).toBeVisible();
const proof = (desk: Page) => desk.frameLocator("iframe[title='The page']");
const names = (desk: Page) =>
  desk
    .getByRole("list", { name: "Blocks of the page" })
    .locator("button[data-block]")
    .allTextContents()
    .then((all) => all.map((name) => name.replace(/^!/, "")));

test.describe.serial("a page is built", () => {
  let desk: Page;
  test.beforeAll(async ({ browser }) => {
    desk = await (await browser.newContext()).newPage();
    await signIn(desk, "owner");
    // A launch of its own: other files count the people of the demo's.
    await open(desk, "/desk/mittens/clock#copy");
    await desk.getByLabel("Name of the copy").fill("Proof sheets");
    await typeMoment(desk, "Doors of the copy open", wallTimeOf(new Date((await appNow()).getTime() + 20 * 86_400_000), "Europe/Lisbon"));
    await desk.getByRole("button", { name: "Copy the launch" }).click();
    await expect(desk.getByRole("link", { name: "The copy is laid out at /proof-sheets." })).toBeVisible();
  });
  test.afterAll(() => desk.close());

  test("an opt-in over a video poster stands in under 25 actions, and takes an address from a phone that its inbox confirms", async ({ browser }) => {
    await open(desk, "/desk/proof-sheets/pages");
    const by = counting(desk);
    await by.choose("Template", "Press the poster");
    await by.fill("Address below /proof-sheets/", "film");
    await by.fill("Headline", "A mitten in eight minutes.");
    await by.press("Add the page");
    await expect(desk).toHaveURL(/pages\/film$/);
    await awake(desk);
    await by.press("Video");
    await by.press("Choose");
    await by.press("yoke.png");
    await by.fill("What it shows", "Two hands turning a heel");
    await by.press("Form");
    await by.fill("Heading", "Where shall the film go?");
    await by.choose("The address is confirmed from its inbox", "always");
    await saved(desk);
    await by.press("Publish this page");
    await by.press("Publish 1 page");
    await expect(desk.getByText("published as it stands")).toBeVisible();
    expect(by.actions).toBeLessThan(25);
    await expectAccessible(desk);

    const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 }, isMobile: true, hasTouch: true })).newPage();
    await phone.goto(at("/l/proof-sheets/film"));
    await expect(phone.getByRole("heading", { level: 1 })).toHaveText("A mitten in eight minutes.");
    expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    const dialog = phone.getByRole("dialog");
    await expect(dialog).toBeHidden();
    await phone.locator(".press").tap();
    await expect(dialog).toBeVisible();
    await dialog.getByRole("link", { name: "Close" }).tap();
    await expect(dialog).toBeHidden();
    await phone.locator(".press").tap();
    await expectAccessible(phone);
    await dialog.getByLabel("Email").fill("runa@film.example");
    await dialog.getByRole("button", { name: "Send me the film" }).tap();
    await expect(dialog.getByText("Tick the box")).toBeVisible();
    await expect(dialog.getByLabel("Email")).toHaveValue("runa@film.example");
    await dialog.getByLabel("First name").fill("Runa");
    await dialog.getByRole("checkbox").check();
    await phone.waitForTimeout(300);
    await dialog.getByRole("button", { name: "Send me the film" }).tap();
    await expect(phone.getByText("One step is left.")).toBeVisible();
    await expect.poll(async () => (await emails("runa@film.example")).length).toBe(1);
    const link = /https?:\S+confirm\?c=\S+/.exec((await emails("runa@film.example"))[0]!.text)![0];
    await phone.goto(link);
    await expect(phone.getByText("You are on the list.")).toBeVisible();
    await expect.poll(async () => (await emails("runa@film.example")).length).toBe(2);
    await phone.close();
  });

  test("without script the poster opens the form all the same", async ({ browser }) => {
    const page = await (await browser.newContext({ javaScriptEnabled: false })).newPage();
    await page.goto(at("/l/proof-sheets/film"));
    await expect(page.getByLabel("Email")).toBeHidden();
    await page.locator(".press").click();
    await expect(page.getByLabel("Email")).toBeVisible();
    await page.close();
  });

  test("blocks are added by name, moved by keys and by pointer, hidden on a width, and every step comes back", async () => {
    await open(desk, "/desk/proof-sheets/pages/sales");
    const before = await names(desk);
    await desk.getByRole("button", { name: "Headline", exact: true }).first().click();
    await desk.getByRole("combobox", { name: "type here to add a block:" }).fill("faq");
    await desk.keyboard.press("Enter");
    await expect.poll(() => names(desk)).toEqual([before[0], "Questions", ...before.slice(1)]);
    await desk.getByRole("textbox", { name: "Question 1" }).fill("How many balls?");
    await expect(proof(desk).getByText("How many balls?")).toBeVisible();
    await desk.getByRole("button", { name: "Move Questions", exact: true }).first().focus();
    await desk.keyboard.press("Space");
    await expect(desk.getByText(/^Questions is taken up/)).toBeAttached();
    await desk.keyboard.press("ArrowUp");
    await expect(desk.getByText("Questions is above Headline.")).toBeAttached();
    await desk.keyboard.press("Space");
    await expect.poll(() => names(desk)).toEqual(["Questions", ...before]);
    const [from, to] = [
      await desk.getByRole("button", { name: "Move Questions", exact: true }).first().boundingBox(),
      await desk.getByRole("button", { name: "Move Price box", exact: true }).boundingBox(),
    ];
    await desk.mouse.move(from!.x + 5, from!.y + 8);
    await desk.mouse.down();
    await desk.mouse.move(to!.x + 5, to!.y + 4, { steps: 8 });
    await desk.mouse.up();
    await expect.poll(() => names(desk)).not.toEqual(["Questions", ...before]);
    await desk.getByRole("button", { name: "Questions", exact: true }).first().click();
    await desk.getByRole("checkbox", { name: "phone" }).uncheck();
    await desk.getByRole("button", { name: "Phone", exact: true }).click();
    await expect(proof(desk).getByText("How many balls?")).toBeHidden();
    await desk.getByRole("button", { name: "Desktop", exact: true }).click();
    await expect(proof(desk).getByText("How many balls?")).toBeVisible();
    const undo = desk.getByRole("button", { name: "Undo", exact: true });
    let steps = 0;
    for (; await undo.isEnabled(); steps += 1) await undo.click();
    expect(steps).toBe(5);
    await expect.poll(() => names(desk)).toEqual(before);
    await desk.keyboard.press("Control+Shift+Z");
    await expect.poll(() => names(desk)).toEqual([before[0], "Questions", ...before.slice(1)]);
    await saved(desk);
    await desk.getByRole("button", { name: "Versions", exact: true }).click();
    await desk.getByRole("button", { name: "Bring version 1 back" }).click();
    await expect.poll(() => names(desk)).toEqual(before);
  });

  test("a dead end is named at its block and stops the publishing; a broken file is refused at its field", async () => {
    await open(desk, "/desk/proof-sheets/pages/closed");
    await desk.getByRole("combobox", { name: "type here to add a block:" }).fill("button");
    await desk.keyboard.press("Enter");
    await desk.getByLabel("Leads to").selectOption("outside");
    await expect(desk.getByRole("alert").filter({ hasText: "An address begins with https://" })).toBeVisible();
    await expect(desk.getByText(/not saved: a field needs another look/)).toBeVisible();
    await desk.getByLabel("Leads to").selectOption({ label: "the next step" });
    await desk.getByRole("textbox", { name: "Button says" }).fill("");
    await saved(desk);
    await desk.getByRole("button", { name: "Publish this page" }).click();
    await expect(desk.getByRole("dialog").getByText("The button says nothing.")).toBeVisible();
    await desk.getByRole("button", { name: "Show me the gap" }).click();
    await expect(desk.getByRole("textbox", { name: "Button says" })).toBeVisible();
    await desk.getByRole("button", { name: "Remove" }).click();
    await desk.getByRole("button", { name: "Picture", exact: true }).first().click();
    await desk.getByRole("button", { name: "Choose", exact: true }).click();
    const file = desk.getByLabel("Upload a picture");
    await file.setInputFiles({ name: "notes.png", mimeType: "image/png", buffer: Buffer.from("no picture at all") });
    await expect(desk.getByText("This file is damaged, or it is no picture.")).toBeVisible();
    const picture = await sharp({ create: { width: 640, height: 400, channels: 3, background: "#2F6B4F" } })
      .jpeg()
      .toBuffer();
    await file.setInputFiles({ name: "field.jpg", mimeType: "image/jpeg", buffer: picture });
    await expect(desk.getByText("field.jpg, 640 × 400")).toBeVisible();
    await expect(desk.getByText("The picture has no words.")).toBeHidden();
    await saved(desk);
  });

  test("two people on a page are told of one another, and neither overwrites the other", async ({ browser }) => {
    const other = await (await browser.newContext()).newPage();
    await signIn(other, "owner");
    for (const page of [desk, other]) await open(page, "/desk/proof-sheets/pages/thanks");
    await desk.getByRole("button", { name: "Headline", exact: true }).first().click();
    await desk.getByRole("textbox", { name: "Headline" }).fill("Thank you from the first.");
    await saved(desk);
    await other.getByRole("button", { name: "Headline", exact: true }).first().click();
    await other.getByRole("textbox", { name: "Headline" }).fill("Thank you from the second.");
    await expect(other.getByText("Somebody else saved this page meanwhile.")).toBeVisible();
    await expect(other.getByRole("textbox", { name: "Headline" })).toHaveValue("Thank you from the second.");
    await other.getByRole("button", { name: "Save mine as the newer version" }).click();
    await saved(other);
    await open(desk, "/desk/proof-sheets/pages/thanks");
    await expect(proof(desk).getByRole("heading", { level: 1 })).toHaveText("Thank you from the second.");
    await desk.getByRole("button", { name: "Versions", exact: true }).click();
    await expect(desk.getByRole("button", { name: "Bring version 1 back" })).toBeVisible();
    await other.close();
  });

  test("a second version begins as the page stands, is changed by itself, and its share is set", async () => {
    await open(desk, "/desk/proof-sheets/pages/sales");
    await desk.getByText("Versions to test").click();
    await desk.getByRole("button", { name: "Add a version" }).click();
    await expect(desk.getByRole("heading", { level: 1, name: "Sales, version B of 2" })).toBeVisible();
    await awake(desk);
    await expect(proof(desk).getByRole("heading", { level: 1 })).toHaveText("Mittens in a Weekend is open.");
    await desk.getByRole("button", { name: "Headline", exact: true }).first().click();
    await desk.getByRole("textbox", { name: "Headline" }).fill("Two mittens, one weekend.");
    await expect(proof(desk).getByRole("heading", { level: 1 })).toHaveText("Two mittens, one weekend.");
    await saved(desk);
    await desk.getByRole("button", { name: "The page", exact: true }).click();
    await desk.getByLabel(/^Share of B/).fill("3");
    await desk.getByRole("button", { name: "Set the shares" }).click();
    await expect(desk.getByText("Share of B, now 75 %")).toBeVisible();
    await desk.getByRole("link", { name: "open it" }).click();
    await expect(desk.getByRole("heading", { level: 1, name: "Sales, version A of 2" })).toBeVisible();
    await expect(proof(desk).getByRole("heading", { level: 1 })).toHaveText("Mittens in a Weekend is open.");
  });

  test("a look is changed once and all pages follow; a page is shown to somebody by a private link", async ({ browser }) => {
    await open(desk, "/desk/proof-sheets/pages");
    await desk.getByRole("radio", { name: /Letter/ }).check();
    await desk.getByLabel("Colour of buttons", { exact: true }).fill("green");
    await expect(desk.getByRole("button", { name: /Use it on 1 published page/ })).toBeEnabled();
    await desk.getByRole("button", { name: /Use it on/ }).click();
    await expect(desk.getByText("A colour such as #A34721.")).toBeVisible();
    await desk.getByLabel("Colour of buttons", { exact: true }).fill("#FFE9B0");
    await expect(desk.getByText(/Your colour was changed to #/)).toBeVisible();
    await desk.getByRole("button", { name: /Use it on/ }).click();
    const page = await (await browser.newContext()).newPage();
    await expect
      .poll(async () => (await page.goto(at("/l/proof-sheets/film"))) && (await page.locator("style").textContent()))
      .toContain("--paper:#FFFFFF");
    await expectAccessible(page);
    await open(desk, "/desk/proof-sheets/pages/sales");
    await desk.getByText("Show it to somebody").click();
    await desk.getByRole("button", { name: "Make a private link" }).click();
    const link = await desk.getByLabel("Private link").inputValue();
    await page.goto(link);
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Mittens in a Weekend is open.");
    expect(await page.locator("form[action]:not([action='#'])").count()).toBe(0);
    await page.close();
  });
});
