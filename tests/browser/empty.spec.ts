import { readFileSync } from "node:fs";
import { expect, test, type Locator, type Page } from "@playwright/test";
import { stopChild } from "../../scripts/lib/run.mjs";
import { wallTimeOf } from "../../src/core/launch";
import { startStack } from "../support/browserStack";
import { awake, cards, expectAccessible, typeMoment, typeZone } from "./desk";

/** Counts what a person does: presses, fields that are typed into, and choices made. */
const counting = () => {
  let n = 0;
  return {
    get n() {
      return n;
    },
    press: (what: Locator) => ((n += 1), what.click()),
    type: (field: Locator, text: string) => ((n += 1), field.fill(text)),
    zone: (page: Page, zone: string) => ((n += 1), typeZone(page, zone)),
    moment: (page: Page, label: string, wall: string) => ((n += 1), typeMoment(page, label, wall)),
    choose: (field: Locator, value: string | { label: string }) => ((n += 1), field.selectOption(value)),
    tick: (box: Locator) => ((n += 1), box.check()),
  };
};

let stack: Awaited<ReturnType<typeof startStack>>;
let app: Awaited<ReturnType<typeof stack.start>>;
test.beforeAll(async () => {
  stack = await startStack(`ink_bell_empty_${process.pid}`, "empty");
  app = await stack.start();
});
test.afterAll(async () => {
  await stopChild(app);
  await stack.stopStandins();
});

const password = "a long password";
const enter = async (page: Page, act: ReturnType<typeof counting>, address: string) => {
  await page.goto(address);
  await act.type(page.getByLabel("Vendor, as pages"), "Rook & Rye");
  await act.choose(page.getByLabel("Country of establishment"), { label: "Ireland" });
  await act.type(page.getByLabel("Your name"), "Nuala");
  await act.type(page.getByLabel("Your email"), "nuala@rook.example");
  await act.type(page.getByLabel("Password"), password);
  await act.press(page.getByRole("button", { name: "Open the desk" }));
  await expect(page.getByRole("heading", { name: "Launches" })).toBeVisible();
};

test("an empty installation leads to a published waiting list, and on to a launch that sells", async ({ page, browser }) => {
  const at = (path: string) => `${stack.origin}${path}`;
  const act = counting();
  // Nobody can sign in, and nothing of a demo is here.
  await page.goto(at("/"));
  await expect(page).toHaveURL(/\/desk\/sign-in/);
  const wayIn = at(`/desk/first?t=${readFileSync(stack.wayIn, "utf8")}`);
  await page.goto(wayIn);
  await expectAccessible(page);
  await page.getByLabel("Password").fill("short");
  await enter(page, act, wayIn);
  // The address holds once.
  const late = await (await browser.newContext()).newPage();
  expect((await late.goto(wayIn))!.status()).toBe(403);
  await expect(late.getByText("This address is not valid any more.")).toBeVisible();

  // A waiting list: a name, two dates, and one press that makes it public.
  await act.press(page.getByRole("link", { name: "Start a launch" }).first());
  await awake(page);
  const now = new Date(((await (await fetch(at("/healthz"))).json()) as { now: string }).now);
  const wall = (hours: number) => wallTimeOf(new Date(now.getTime() + hours * 3_600_000), "Europe/Dublin");
  await act.press(page.getByRole("button", { name: /^Start with/ }));
  // All that is missing is said at once.
  for (const missing of ["Give the launch a name.", "Give a date and a time", "Name what is sold", "Give an amount"])
    await expect(page.getByText(missing).first()).toBeVisible();
  await act.type(page.getByLabel("Name", { exact: true }), "Łódź Emails");
  await act.tick(page.getByRole("radio", { name: /Only a list/ }));
  await act.zone(page, "Europe/Dublin");
  await act.moment(page, "Doors open", wall(48));
  await act.moment(page, "Doors close", wall(96));
  await act.press(page.getByRole("button", { name: /^Start with/ }));
  await expect(page).toHaveURL(/\/desk\/lodz-emails\/score/);
  await act.press(page.getByRole("link", { name: /^Pages/ }));
  await awake(page);
  await expect(page.locator("[data-gap=answers_nothing]").first()).toBeVisible();
  await expectAccessible(page);
  await act.press(page.getByRole("button", { name: /Publish all that is ready/ }));
  await act.press(page.getByRole("button", { name: "Publish 2 pages" }));
  await expect(page.getByText("2 pages are public now.")).toBeVisible();
  await expect(page.locator("[data-gap=answers_nothing]")).toHaveCount(0);
  expect(act.n).toBeLessThanOrEqual(40);
  const visitor = await (await browser.newContext()).newPage();
  await visitor.goto(at("/l/lodz-emails"));
  await expect(visitor).toHaveTitle(/Rook & Rye/);
  await expect(visitor.getByRole("button", { name: "Tell me when it opens" })).toBeVisible();

  // A short launch that sells at once.
  await act.press(page.getByRole("link", { name: "Launches" }));
  await act.press(page.getByRole("link", { name: "Start a launch" }).first());
  await awake(page);
  await act.type(page.getByLabel("Name", { exact: true }), "Rye in Winter");
  await act.tick(page.getByRole("radio", { name: /Sell at once/ }));
  await act.zone(page, "Europe/Dublin");
  await act.moment(page, "Doors open", wall(-1));
  await act.moment(page, "Doors close", wall(72));
  await act.type(page.getByLabel("Main product"), "Rye in Winter");
  await act.type(page.getByLabel("Price"), "€1,049.00");
  await act.press(page.getByRole("button", { name: /^Start with/ }));
  await expect(page).toHaveURL(/\/desk\/rye-in-winter\/score/);
  await act.press(page.getByRole("link", { name: /^Pages/ }));
  await awake(page);
  await act.press(page.getByRole("button", { name: /Publish all that is ready/ }));
  await act.press(page.getByRole("button", { name: /^Publish \d pages$/ }));
  await expect(page.getByText(/pages are public now/)).toBeVisible();
  expect(act.n).toBeLessThanOrEqual(90);

  // A buyer in Brazil pays.
  await visitor.goto(at("/l/rye-in-winter/checkout"));
  await visitor.getByLabel("Email").fill("bia@rye.example");
  await visitor.getByLabel("First name").fill("Bia");
  await visitor.getByLabel("Country").selectOption({ label: "Brazil" });
  await visitor.getByRole("button", { name: "Go on to the payment" }).click();
  await expect(visitor.getByRole("row", { name: "To pay" })).toContainText("€1,049.00");
  const field = visitor.frameLocator("iframe[name=card]");
  await field.getByLabel("Card number").fill(cards.good);
  await field.getByLabel("Expiry, MM/YY").fill("12/39");
  await field.getByLabel("Security code").fill("123");
  await visitor.locator("form[data-card-form] button:not([data-stored], [form])").click();
  await expect(visitor.getByText("Receipt, order 1001")).toBeVisible();
});

test("the settings hold the vendor, the team, one's own password and sessions", async ({ page, browser }) => {
  const at = (path: string) => `${stack.origin}${path}`;
  const signIn = async (on: Page, email: string, word: string) => {
    await on.goto(at("/desk/sign-in"));
    await on.getByLabel("Email").fill(email);
    await on.getByLabel("Password").fill(word);
    await on.getByRole("button", { name: "Sign in" }).click();
    await expect(on).toHaveURL(at("/desk"));
  };
  const email = async (to: string): Promise<string> => {
    const read = async () =>
      (
        (await (await fetch(`${stack.settings["MAIL_INBOX_URL"]}/api/emails?to=${encodeURIComponent(to)}`)).json()) as {
          emails: { text: string }[];
        }
      ).emails;
    await expect.poll(async () => (await read()).length, { timeout: 90_000 }).toBeGreaterThan(0);
    return /(http\S+\?t=\S+)/.exec((await read())[0]!.text)![1]!;
  };
  await signIn(page, "nuala@rook.example", password);
  await page.goto(at("/desk/settings"));
  await awake(page);
  await expectAccessible(page);
  await page.getByLabel("Business name, as pages and emails show it").fill("Rook & Rye Press");
  await page.getByLabel("Postal address").click();
  await expect(page.getByText("Saved. Published pages and emails say it from now on.")).toBeVisible();
  const visitor = await (await browser.newContext()).newPage();
  await visitor.goto(at("/l/lodz-emails"));
  await expect(visitor).toHaveTitle(/Rook & Rye Press/);

  // Somebody joins by an invitation, forgets the password, and chooses another.
  await page.getByLabel("Invite by email").fill("ed@rook.example");
  await page.getByRole("button", { name: "Send the invitation" }).click();
  await expect(page.getByText("An invitation is on its way to ed@rook.example.")).toBeVisible();
  const ed = await (await browser.newContext()).newPage();
  await ed.goto(await email("ed@rook.example"));
  await expectAccessible(ed);
  await ed.getByLabel("Your name").fill("Ed");
  await ed.getByLabel("Password").fill("another long password");
  await ed.getByRole("button", { name: "Join and sign in" }).click();
  await expect(ed).toHaveURL(at("/desk"));
  await ed.goto(at("/desk/settings"));
  await awake(ed);
  await expect(ed.getByText("An owner changes this.")).toBeVisible();
  const elsewhere = await (await browser.newContext()).newPage();
  await signIn(elsewhere, "ed@rook.example", "another long password");
  await ed.reload();
  await awake(ed);
  await ed.getByRole("button", { name: "Sign out everywhere else" }).click();
  await expect(ed.getByText("Everywhere else you are signed out.")).toBeVisible();
  await elsewhere.goto(at("/desk"));
  await expect(elsewhere).toHaveURL(/sign-in/);
  await elsewhere.getByRole("link", { name: "Forgotten the password?" }).click();
  await elsewhere.getByLabel("Your email").fill("nobody@rook.example");
  await elsewhere.getByRole("button", { name: "Send me a link" }).click();
  await expect(elsewhere.getByRole("status")).toContainText("If nobody@rook.example has an account here");

  // The membership ends: what they see is the sign-in, at once.
  await page.reload();
  await awake(page);
  await page.getByRole("button", { name: "End the membership of Ed" }).click();
  await page.getByRole("button", { name: "End the membership", exact: true }).click();
  await expect(page.getByText("Ed does not belong to the team any more.")).toBeVisible();
  await ed.goto(at("/desk"));
  await expect(ed).toHaveURL(/sign-in/);
  await page.getByRole("button", { name: "End the membership of Nuala" }).click();
  await page.getByRole("button", { name: "End the membership", exact: true }).click();
  await expect(page.getByText("This is the last owner.")).toBeVisible();
});
