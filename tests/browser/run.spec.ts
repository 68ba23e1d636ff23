import { expect, test, type Page } from "@playwright/test";
import { wallTimeOf } from "../../src/core/launch";
import { advance, appNow, at, awake, beginCheckout, cards, expectAccessible, emails, open, payWith, signIn, momentIn } from "./desk";

/** Four seconds of silence as a film: a wave file (RIFF, PCM 8 bit mono, 8,000 samples a second). */
const film = (): Buffer => {
  const samples = Buffer.alloc(4 * 8_000, 128);
  const head = Buffer.alloc(44);
  head.write("RIFF", 0);
  head.writeUInt32LE(36 + samples.length, 4);
  head.write("WAVEfmt ", 8);
  head.writeUInt32LE(16, 16);
  head.writeUInt16LE(1, 20);
  head.writeUInt16LE(1, 22);
  head.writeUInt32LE(8_000, 24);
  head.writeUInt32LE(8_000, 28);
  head.writeUInt16LE(1, 32);
  head.writeUInt16LE(8, 34);
  head.write("data", 36);
  head.writeUInt32LE(samples.length, 40);
  return Buffer.concat([head, samples]);
};
const saved = (desk: Page) => expect(desk.getByRole("status").filter({ hasText: /^, saved$/ })).toBeVisible();

test.describe.serial("the run of episodes", () => {
  let desk: Page;
  test.beforeAll(async ({ browser }) => {
    desk = await (await browser.newContext()).newPage();
    await signIn(desk, "owner");
  });
  test.afterAll(() => desk.close());

  test("an episode set to open in a minute opens on the page that stands, and its address sends it from then on", async ({ page }) => {
    await open(desk, "/desk/gansey/clock");
    const last = desk.locator("details").filter({ has: desk.locator("summary", { hasText: "Episode 5" }) });
    await last.locator("summary").click();
    // Both on the wall of the launch's zone, so that only their distance counts.
    const onWall = (text: string) => Date.parse(`${text}:00Z`);
    const closes = onWall(await momentIn(desk, "Doors close"));
    const left = Math.floor((closes - onWall(wallTimeOf(await appNow(), "Europe/Lisbon"))) / 60_000) - 2;
    await last.getByLabel("Offset: unit").selectOption("minutes");
    await last.getByLabel("Offset", { exact: true }).fill(String(left));
    await desk.getByRole("button", { name: "See what that changes" }).click();
    await expect(desk.getByRole("region", { name: "What this changes" }).getByText("unlocks").first()).toBeVisible();
    await desk.getByRole("button", { name: /^Change it/ }).click();
    await expect(desk.getByText("Every page, email and picture shows it")).toBeVisible();

    await page.clock.install({ time: await appNow() });
    await page.goto(at("/l/gansey/episodes/5"));
    await expect(page.getByRole("heading", { level: 1 })).not.toContainText("wash it");
    const row = page.getByRole("navigation", { name: "The episodes" }).getByRole("listitem").filter({ hasText: "Episode 5" });
    await expect(row).toContainText("opens");
    await expect(row.getByRole("link")).toHaveCount(0);
    await expectAccessible(page);
    await page.clock.fastForward(190_000);
    await expect(row.getByRole("link")).toBeVisible();
    await advance(190);
    await row.getByRole("link").click();
    await expect(page.getByRole("heading", { level: 1 })).toContainText("wash it");
  });

  test("what is said below an episode is shown once it has been read", async ({ page, browser }) => {
    await page.goto(at("/l/gansey/episodes/1"));
    await page.getByLabel("What do you make of it?").fill("Is a cable needle needed?");
    await page.getByLabel("Your name").fill("Hedda");
    await page.waitForTimeout(400);
    await page.getByRole("button", { name: "Send it" }).click();
    await expect(page.getByText("once it has been read")).toBeVisible();
    await open(desk, "/desk/gansey/pages");
    await desk.getByRole("link", { name: /comments? waits? to be read/ }).click();
    await awake(desk);
    await expectAccessible(desk);
    const comment = desk.getByRole("listitem").filter({ hasText: "Is a cable needle needed?" });
    await comment.getByLabel("Your answer").fill("No: nothing crosses.");
    await comment.getByRole("button", { name: "Show it on the page" }).click();
    await expect(desk.getByText("It stands on the page now.")).toBeVisible();
    const other = await (await browser.newContext()).newPage();
    await other.goto(at("/l/gansey/episodes/2"));
    await expect(other.getByText("Is a cable needle needed?")).toBeVisible();
    await expect(other.getByText("No: nothing crosses.")).toBeVisible();
    await other.close();
  });

  test("a film that is watched to its end counts so on the contact sheet", async ({ page }) => {
    await open(desk, "/desk/gansey/pages");
    await desk.getByLabel("Template").selectOption({ label: "Video" });
    await desk.getByRole("textbox", { name: "Address below /gansey/" }).fill("extra/film");
    await desk.getByLabel("Headline").fill("One film more.");
    await desk.getByRole("button", { name: "Add the page" }).click();
    await expect(desk).toHaveURL(/pages\/extra\/film$/);
    await awake(desk);
    await desk.getByRole("button", { name: "Video", exact: true }).click();
    await desk.getByLabel("Or the address of a film").fill("https://films.example/silence.wav");
    await saved(desk);
    await desk.getByRole("button", { name: "Publish this page" }).click();
    await desk.getByRole("button", { name: "Publish 1 page" }).click();
    await expect(desk.getByText("published as it stands")).toBeVisible();

    await page.route("https://films.example/**", (route) => route.fulfill({ contentType: "audio/wav", body: film() }));
    await page.goto(at("/l/gansey/extra/film"));
    await page.locator("video").evaluate((video: HTMLVideoElement) => {
      video.muted = true;
      return video.play();
    });
    await expect.poll(() => page.locator("video").evaluate((video: HTMLVideoElement) => video.ended), { timeout: 90_000 }).toBe(true);
    await expect
      .poll(async () => {
        await desk.goto(at("/desk/gansey/pages"));
        return desk.getByText("watched half: 1 of 1").count();
      })
      .toBe(1);
    await expect(desk.getByText("to the end: 1")).toBeVisible();
  });

  test("a page is saved as a file, and brought into another launch with its pictures", async () => {
    await open(desk, "/desk/gansey/pages/episodes/1");
    await desk.getByText("Copy to another place").click();
    const [file] = await Promise.all([desk.waitForEvent("download"), desk.getByRole("link", { name: "Or save it as a file" }).click()]);
    expect(file.suggestedFilename()).toBe("gansey-episodes-1.page.zip");
    await open(desk, "/desk/yoke/pages");
    const form = desk.getByRole("form", { name: "Import a file" });
    await form.getByRole("button", { name: "Import" }).click();
    await expect(form.getByRole("alert")).toContainText("Choose a file");
    await form.getByLabel("File").setInputFiles(await file.path());
    await form.getByLabel("Address, below /yoke/").fill("from/afar");
    await form.getByRole("button", { name: "Import" }).click();
    await expect(desk).toHaveURL(/yoke\/pages\/from\/afar$/);
    await awake(desk);
    await expect(desk.frameLocator("iframe[title='The page']").getByRole("heading", { level: 1 })).toContainText("Episode 1");
    await expect(desk.frameLocator("iframe[title='The page']").locator("img").first()).toBeVisible();
  });
});

test("an order bump changes the total while a card is half typed, and the receipt names it", async ({ page }) => {
  await beginCheckout(page, "gansey", "bump@walk.example");
  const number = page.frameLocator("iframe[name=card]").getByLabel("Card number");
  await number.fill("9990");
  const tick = page.getByLabel(/Yes, put the paper in/);
  await expect(tick).not.toBeChecked();
  await tick.check();
  await expect(page.getByRole("button", { name: "Pay and keep my seat · €166.00" })).toBeVisible();
  await expect(number).toHaveValue("9990");
  await tick.uncheck();
  await expect(page.getByRole("button", { name: "Pay and keep my seat · €149.00" })).toBeVisible();
  await tick.check();
  // In another currency it costs what it costs there, and the card stays as well.
  await page.getByLabel("Currency").selectOption("USD");
  await expect(page.getByText("Chart Paper Pack, US$19.00")).toBeVisible();
  await expect(page.getByRole("row", { name: "Chart Paper Pack" })).toContainText("US$19.00");
  await page.getByLabel("Currency").selectOption("EUR");
  await expect(number).toHaveValue("9990");
  await expect(page.getByRole("row", { name: "To pay" })).toContainText("€166.00");
  await payWith(page, cards.good);
  for (const offer of ["240 stitches", "Eighty of them"]) {
    await expect(page.getByRole("heading", { level: 1 })).toContainText(offer);
    await page.getByRole("button", { name: "No, thank you" }).click();
  }
  await expect(page.getByRole("row", { name: "Chart Paper Pack" })).toContainText("€17.00");
  await expect(page.getByRole("heading", { name: "The Cast-On Primer" })).toBeVisible();
  await expectAccessible(page);
});

test("who asks to be a partner is taken at the desk, chooses a password by an email, and signs in", async ({ page, browser }) => {
  const desk = await (await browser.newContext()).newPage();
  await signIn(desk, "owner");
  await open(desk, "/desk/gansey/partners");
  await expectAccessible(desk);
  const one = desk.getByRole("listitem").filter({ hasText: "Lambing Storm Wool" });
  await one.getByLabel("Commission, %").fill("45");
  await one.getByRole("button", { name: "Take as a partner" }).click();
  await expect(desk.getByText("an email with a link to the portal is on its way")).toBeVisible();
  await expect.poll(async () => (await emails("hilda@lambingstorm.example")).length, { timeout: 90_000 }).toBe(1);
  const [email] = await emails("hilda@lambingstorm.example");
  await page.goto(/https?:\S+welcome\S+/.exec(email!.text)![0]);
  await page.getByLabel(/Password/).fill("wool on the wire");
  await page.getByRole("button", { name: "Keep it and sign in" }).click();
  await page.getByLabel("Email").fill("hilda@lambingstorm.example");
  await page.getByLabel("Password").fill("wool on the wire");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Lambing Storm Wool" })).toBeVisible();
  await desk.close();
});
