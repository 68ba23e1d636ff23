import type { ChildProcess } from "node:child_process";
import { expect, test } from "@playwright/test";
import { startStack } from "../support/browserStack";
import { chargesMade } from "../support/cardDeskBooks";
import { stopChild } from "../../scripts/lib/run.mjs";
import { payButton } from "./desk";

type Stack = Awaited<ReturnType<typeof startStack>>;

test.describe("the app is killed between the charge and the page", () => {
  let stack: Stack;
  let app: ChildProcess;
  test.beforeAll(async () => {
    stack = await startStack("ink_bell_crash");
    app = await stack.start();
  });
  test.afterAll(async () => {
    await stopChild(app);
    await stack.stopStandins();
  });

  const charges = () => chargesMade(stack.settings);

  test("neither a lost nor a double charge is left, and the buyer goes on", async ({ page }) => {
    await page.goto(`${stack.origin}/l/gansey/checkout`);
    await page.getByLabel("Email").fill("crash@walk.example");
    await page.getByLabel("First name").fill("Crash");
    await page.getByLabel("Country").selectOption({ label: "Portugal" });
    await page.getByRole("button", { name: "Go on to the payment" }).click();
    const field = page.frameLocator("iframe[name=card]");
    // This card goes through at once, but its answer takes five seconds.
    await field.getByLabel("Card number").fill("9990 0000 0000 0045");
    await field.getByLabel("Expiry, MM/YY").fill("12/39");
    await field.getByLabel("Security code").fill("123");
    await page.getByLabel(/request immediate access/).check();
    await payButton(page).click();
    await expect.poll(async () => (await charges()).length).toBe(1);
    app.kill("SIGKILL");
    await new Promise((ended) => app.once("exit", ended));
    expect((await charges())[0]!.status).toBe("succeeded");

    app = await stack.start();
    // The card desk's notice, or the worker, brings the charge to its end; the page asks again by itself.
    await page.goto(`${stack.origin}/l/gansey/checkout`);
    await expect
      .poll(
        async () => {
          await page.goto(`${stack.origin}/l/gansey/checkout`);
          return /stitch-library\?o=/.test(page.url());
        },
        { timeout: 90_000 },
      )
      .toBe(true);
    expect(await charges()).toHaveLength(1);
    await expect
      .poll(async () => {
        const response = await fetch(`${stack.settings["MAIL_INBOX_URL"]}/api/emails?to=crash@walk.example`);
        return ((await response.json()) as { emails: unknown[] }).emails.length;
      })
      .toBe(0);

    await page.goto(`${stack.origin}/desk`);
    await page.getByLabel("Email").fill("owner@marram.example");
    await page.getByLabel("Password").fill("herringbone-owner");
    await page.getByRole("button", { name: "Sign in" }).click();
    await page.goto(`${stack.origin}/desk/money`);
    await expect(page.getByRole("row", { name: /Crash, PT/ })).toHaveCount(1);
    await expect(page.getByRole("row", { name: /All accounts, EUR/ })).toContainText("€0.00");
  });
});
