import type { ChildProcess } from "node:child_process";
import { expect, test, type Page } from "@playwright/test";
import pg from "pg";
import { stopChild } from "../../scripts/lib/run.mjs";
import { startStack } from "../support/browserStack";
import { advance, at, beginCheckout, cardDesk, cards, deskCharges, payWith, signIn, stack } from "./desk";

const refunds = async (): Promise<{ charge: string; amount: number }[]> => {
  const answer = await fetch(`${stack().CARD_DESK_URL}/v1/refunds`, { headers: { authorization: `Bearer ${stack().CARD_DESK_KEY}` } });
  return ((await answer.json()) as { refunds: { charge: string; amount: number }[] }).refunds;
};
const offer = (page: Page) => expect(page).toHaveURL(/\/l\/gansey\/stitch-library\?o=/, { timeout: 90_000 });

test.describe("the card desk, in the built app", () => {
  test.afterEach(() => cardDesk("well"));

  for (const mood of ["down", "deaf", "slow"] as const) {
    test(`${mood}: the payment is shown as on its way, charged once, and leads on to the offer; so is the offer`, async ({ page }) => {
      await beginCheckout(page, "gansey", `${mood}@trouble.example`);
      const before = (await deskCharges()).length;
      await cardDesk(mood);
      await payWith(page, cards.good);
      if (mood !== "slow") await expect(page.getByText("Your payment is being confirmed.")).toBeVisible();
      await cardDesk("well");
      await advance(25);
      await offer(page);
      expect((await deskCharges()).length).toBe(before + 1);
      // The checkout asks for nothing once more: it leads on as well.
      await page.goto(at("/l/gansey/checkout"));
      await offer(page);
      await cardDesk(mood);
      await page.getByRole("button", { name: /^Yes/ }).first().click();
      if (mood !== "slow") await expect(page.getByText("Your payment is being confirmed.")).toBeVisible();
      await cardDesk("well");
      await advance(25);
      await expect(page).toHaveURL(/\/l\/gansey\/thank-you\?o=/, { timeout: 90_000 });
      await expect(page.getByRole("row", { name: /Stitch Library/ })).toContainText("€67.00");
      expect((await deskCharges()).length).toBe(before + 2);
      // Arrived at the end, the checkout shows the order, and no form that would charge again.
      await page.goto(at("/l/gansey/checkout"));
      await expect(page.getByText("You have bought this already.")).toBeVisible();
      await expect(page.getByLabel("Email")).toHaveCount(0);
      await page.getByRole("link", { name: "Open your order" }).click();
      await expect(page).toHaveURL(/\/thank-you\?o=/);
    });
  }

  test("a card whose answer takes long leads on by itself, with nothing pressed again", async ({ page }) => {
    await beginCheckout(page, "gansey", "late@trouble.example");
    await payWith(page, cards.slow);
    await offer(page);
  });

  test("deaf at a refund: it is shown as pending, pressed twice it goes back once", async ({ page, browser }) => {
    const buyer = await (await browser.newContext()).newPage();
    await beginCheckout(buyer, "gansey", "refund@trouble.example");
    await payWith(buyer, cards.good);
    await offer(buyer);
    await signIn(page, "owner");
    await page.goto(at("/desk/orders?search=refund%40trouble.example"));
    await page.getByRole("link", { name: /^\d+$/ }).first().click();
    const before = (await refunds()).length;
    await page.locator("summary", { hasText: /^Refund$/ }).click();
    await page.getByLabel(/The Gansey Workshop, up to/).fill("50.00");
    await page.getByLabel("Reason").fill("Dropped a stitch");
    await cardDesk("deaf");
    // The very request of the form, sent a second time, as a browser or an impatient hand does.
    const [request] = await Promise.all([page.waitForRequest(/\/refund$/), page.getByRole("button", { name: "Refund to the card" }).click()]);
    const again = await page.request.post(request.url(), { data: request.postDataJSON() as object, headers: { origin: stack().origin } });
    expect(again.status()).toBe(200);
    await expect(page.getByText("refund, pending: the card processor has not answered yet")).toHaveCount(1);
    // While it waits, the desk says so.
    await cardDesk("well");
    await advance(25);
    await expect
      .poll(
        async () => {
          await page.reload();
          return page.getByText("refund, succeeded").count();
        },
        { timeout: 90_000 },
      )
      .toBe(1);
    expect((await refunds()).slice(before)).toMatchObject([{ amount: 5_000 }]);
  });

  test("down at a refund: the desk lists it under waiting work with why, and a press tries it at once", async ({ page, browser }) => {
    const buyer = await (await browser.newContext()).newPage();
    await beginCheckout(buyer, "gansey", "waits@trouble.example");
    await payWith(buyer, cards.good);
    await offer(buyer);
    await signIn(page, "owner");
    await page.goto(at("/desk/orders?search=waits%40trouble.example"));
    await page.getByRole("link", { name: /^\d+$/ }).first().click();
    await page.locator("summary", { hasText: /^Refund$/ }).click();
    await page.getByLabel(/The Gansey Workshop, up to/).fill("20.00");
    await page.getByLabel("Reason").fill("Wrong needles");
    await cardDesk("down");
    await page.getByRole("button", { name: "Refund to the card" }).click();
    await expect(page.getByText("refund, pending")).toBeVisible();
    const row = page.getByRole("row", { name: /Ask the card processor for a refund/ });
    await advance(25);
    await expect
      .poll(
        async () => {
          await page.goto(at("/desk/waiting"));
          return row.getByText("the card processor has not answered yet").count();
        },
        { timeout: 90_000, intervals: [2_000] },
      )
      .toBeGreaterThan(0);
    await cardDesk("well");
    // Its own turn may come at this very moment: then it is done already, and the press says so.
    await row.getByRole("button", { name: "Try now" }).click();
    await expect(page.getByText(/It is tried now\.|it may be done already/)).toBeVisible();
    await expect.poll(async () => (await refunds()).some(({ amount }) => amount === 2_000), { timeout: 90_000 }).toBe(true);
  });
});

test.describe("without the database", () => {
  let own: Awaited<ReturnType<typeof startStack>>;
  let app: ChildProcess;
  const admin = async (sql: string) => {
    const client = new pg.Client({ connectionString: process.env["TEST_DATABASE_URL"] });
    await client.connect();
    await client.query(sql);
    await client.end();
  };
  test.beforeAll(async () => {
    own = await startStack("ink_bell_away");
    app = await own.start();
  });
  test.afterAll(async () => {
    await admin("alter database ink_bell_away with allow_connections true");
    await stopChild(app);
    await own.stopStandins();
  });

  test("pages say that nothing can be answered for the moment, forms that what was typed is still there; and it comes back by itself", async ({
    page,
  }) => {
    await page.goto(`${own.origin}/l/gansey/checkout`);
    await page.getByLabel("Email").fill("away@trouble.example");
    await page.getByLabel("First name").fill("Runa");
    await page.getByLabel("Country").selectOption({ label: "Portugal" });
    await admin("alter database ink_bell_away with allow_connections false");
    await admin("select pg_terminate_backend(pid) from pg_stat_activity where datname = 'ink_bell_away'");
    const [answer] = await Promise.all([page.waitForResponse(/\/do\/start$/), page.getByRole("button", { name: "Go on to the payment" }).click()]);
    expect(answer.status()).toBe(503);
    expect(answer.headers()["retry-after"]).toBe("30");
    await expect(page.getByRole("heading", { name: "We cannot answer at the moment." })).toBeVisible();
    await expect(page.getByText("What you typed is kept on this page.")).toBeVisible();
    for (const path of ["/desk/sign-in", "/library/sign-in", "/desk"])
      expect((await page.request.get(`${own.origin}${path}`, { maxRedirects: 0 })).status(), path).toBeLessThan(504);
    expect((await page.request.get(`${own.origin}/healthz`)).status()).toBe(503);
    await admin("alter database ink_bell_away with allow_connections true");
    await expect.poll(async () => (await page.request.get(`${own.origin}/healthz`)).status(), { timeout: 90_000 }).toBe(200);
    await page.getByRole("button", { name: "Send it again" }).click();
    await expect(page.locator("form[data-card-form]")).toBeVisible();
    await expect(page.getByText("away@trouble.example")).toBeVisible();
  });
});
