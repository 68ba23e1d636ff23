import { expect, test, type Locator, type Page } from "@playwright/test";
import { wallTimeOf } from "../../src/core/launch";
import { appNow, at, awake, expectAccessible, open, signIn, stack, typeMoment } from "./desk";

const zone = "Europe/Lisbon";

test.describe.serial("every gap of a launch is seen on its list, and mended by following it", () => {
  let desk: Page;
  const made: Record<string, string> = {};
  const wall = async (hours: number) => wallTimeOf(new Date((await appNow()).getTime() + hours * 3_600_000), zone);
  /** A launch as the desk starts one, with what it asks for. */
  const start = async (name: string, shape: "short" | "list", opens: number, closes: number): Promise<string> => {
    const answer = await desk.request.post(at("/api/desk/launches"), {
      headers: { origin: stack().origin },
      data: {
        name,
        shape,
        zone,
        opensWall: await wall(opens),
        closesWall: await wall(closes),
        productName: shape === "short" ? name : "",
        price: shape === "short" ? "20.00" : "",
        currency: "EUR",
        taxMode: "inclusive",
      },
    });
    expect(answer.status()).toBe(200);
    return ((await answer.json()) as { slug: string }).slug;
  };
  const gaps = async (slug: string, code: string): Promise<Locator> => {
    await open(desk, `/desk/${slug}/pages`);
    return desk.locator(`[data-gap=${code}]`);
  };
  const follow = async (gap: Locator) => {
    await gap.first().getByRole("link").click();
    await desk.waitForLoadState();
    await awake(desk);
  };
  const publish = async () => {
    await desk.getByRole("button", { name: /^Publish (this page|\d+ changes?)$/ }).click();
    await desk
      .getByRole("dialog")
      .getByRole("button", { name: /^Publish/ })
      .click();
    await expect(desk.getByText("published as it stands")).toBeVisible();
  };
  const publishReady = async (slug: string) => {
    await open(desk, `/desk/${slug}/pages`);
    await desk.getByRole("button", { name: /Publish all that is ready/ }).click();
    await desk.getByRole("button", { name: /^Publish \d+ pages?$/ }).click();
    await expect(desk.getByText(/(page is|pages are) public now/)).toBeVisible();
  };
  const saved = () => expect(desk.getByRole("status").filter({ hasText: /^, saved$/ })).toBeVisible();
  const apply = async () => {
    await desk.getByRole("button", { name: "See what that changes" }).click();
    await desk
      .getByRole("region", { name: "What this changes" })
      .getByRole("button", { name: /^Change it/ })
      .click();
    await expect(desk.getByText(/^Changed\./)).toBeVisible();
  };
  test.beforeAll(async ({ browser }) => {
    desk = await (await browser.newContext()).newPage();
    await signIn(desk, "owner");
    made["short"] = await start("Ebb Notes", "short", -1, 72);
    made["list"] = await start("Ebb List", "list", -1, 72);
    made["past"] = await start("Ebb Past", "short", -72, -24);
  });
  test.afterAll(() => desk.close());

  test("a page that orders need, and one that an address answers with, lead to their editors", async () => {
    const slug = made["short"]!;
    const missing = await gaps(slug, "not_published");
    await expect(missing).toHaveCount(2);
    await expectAccessible(desk);
    await follow(missing);
    await publish();
    await expect(await gaps(slug, "not_published")).toHaveCount(1);
    const answers = await gaps(slug, "answers_nothing");
    const before = await answers.count();
    expect(before).toBeGreaterThan(0);
    await follow(answers);
    await publish();
    await expect(await gaps(slug, "answers_nothing")).toHaveCount(before - 1);
    await publishReady(slug);
    await expect(await gaps(slug, "answers_nothing")).toHaveCount(0);
    await expect(await gaps(slug, "not_published")).toHaveCount(0);
  });

  test("words of a template lead to their very field", async () => {
    const slug = made["short"]!;
    const words = await gaps(slug, "template_words");
    const says = (await words.first().getByRole("link").textContent())!;
    await follow(words);
    await expect(desk.locator("[data-field] :is(input, textarea, [contenteditable=true]):focus")).toHaveCount(1);
    await desk.keyboard.press("Control+a");
    await desk.keyboard.type("Tides are the same for everybody.");
    await saved();
    await publish();
    await expect((await gaps(slug, "template_words")).getByRole("link", { name: says, exact: true })).toHaveCount(0);
  });

  test("an offer page that stands nowhere leads to the path, with the page chosen", async () => {
    const slug = made["short"]!;
    const offer = await gaps(slug, "offer_on_no_step");
    await expect(offer).toHaveCount(1);
    await expect(offer.getByRole("link")).toHaveAttribute("href", /\/offers\?page=/);
    await follow(offer);
    await expect(desk).toHaveURL(/\/offers/);
    await desk.getByLabel("Its name, as the buyer reads it").fill("More ebb");
    await desk.getByLabel("Its price, EUR").fill("9.00");
    await desk
      .getByRole("button", { name: /^Lay|^Add|^Put/ })
      .last()
      .click();
    await expect.poll(async () => (await gaps(slug, "offer_on_no_step")).count()).toBe(0);
  });

  test("access that nobody gives leads to the product", async () => {
    const slug = made["short"]!;
    await follow(await gaps(slug, "not_delivered"));
    await expect(desk).toHaveURL(/\/desk\/products\?at=/);
    await desk.getByLabel(/^Buyers get access at once/).check();
    await expect.poll(async () => (await gaps(slug, "not_delivered")).count()).toBe(0);
  });

  test("a button that leads to a draft, and a page that says it opens soon while it sells, lead to their blocks", async () => {
    const slug = made["short"]!;
    await open(desk, `/desk/${slug}/pages`);
    await desk.getByLabel(`Address below /${slug}/`).fill("bonus");
    await desk.getByRole("button", { name: "Add the page" }).click();
    await expect(desk).toHaveURL(/pages\/bonus$/);
    await open(desk, `/desk/${slug}/pages/sales`);
    await desk.getByRole("button", { name: "Price box", exact: true }).first().click();
    await desk.getByLabel("Leads to").selectOption("page:bonus");
    await saved();
    await desk.getByRole("button", { name: "Headline", exact: true }).first().click();
    await desk.getByRole("textbox", { name: "Headline", exact: true }).fill("Ebb Notes opens soon.");
    await saved();
    await publish();

    await follow(await gaps(slug, "leads_to_draft"));
    await expect(desk.locator("[data-field=target] :focus")).toHaveCount(1);
    await desk.getByLabel("Leads to").selectOption({ label: "the checkout" });
    await saved();
    await publish();
    await expect(await gaps(slug, "leads_to_draft")).toHaveCount(0);
    await follow(await gaps(slug, "says_soon"));
    await expect(desk.locator("[data-field=text] :focus")).toHaveCount(1);
    await desk.keyboard.press("Control+a");
    await desk.keyboard.type("Ebb Notes is open.");
    await saved();
    await publish();
    await expect(await gaps(slug, "says_soon")).toHaveCount(0);
  });

  test("an opt-in that its gate never shows leads to the gates", async () => {
    const slug = made["list"]!;
    await publishReady(slug);
    await open(desk, `/desk/${slug}/clock#gates`);
    await desk.getByRole("button", { name: "Add a rule" }).click();
    await desk.getByRole("checkbox", { name: "Opt-in" }).first().check();
    for (const phase of ["Before", "While open", "After"]) await desk.getByLabel(phase, { exact: true }).selectOption({ label: "Closed" });
    await apply();
    await follow(await gaps(slug, "never_shown"));
    await expect(desk).toHaveURL(/\/clock#gates$/);
    await desk.getByRole("button", { name: "Remove this rule" }).click();
    await apply();
    await expect(await gaps(slug, "never_shown")).toHaveCount(0);
  });

  test("dates that were over before anything was public lead to the deadline", async () => {
    const slug = made["past"]!;
    await follow(await gaps(slug, "past_dates"));
    await expect(desk).toHaveURL(/\/clock#deadline$/);
    await typeMoment(desk, "Doors close", await wall(48));
    await apply();
    await expect(await gaps(slug, "past_dates")).toHaveCount(0);
  });
});
