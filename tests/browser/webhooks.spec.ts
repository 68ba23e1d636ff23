// Another tool is told of what happens: added, checked, down for a while, told again, and removed.
import { expect, test, type Page } from "@playwright/test";
import { at, awake, expectAccessible, open, signIn, stack } from "./desk";

/** The other tool's own page, in a tab of its own. */
const otherTool = async (page: Page) => {
  const tab = await page.context().newPage();
  const home = new URL("/", stack().HOOKS_URL).href;
  const look = () => tab.goto(home);
  await look();
  return {
    tab,
    look,
    answers: async (how: string) => {
      await look();
      await tab.getByLabel("This tool").selectOption({ label: how });
      await tab.getByRole("button", { name: "Apply" }).click();
    },
    checksBy: async (secret: string) => {
      await look();
      await tab.getByLabel("A secret that it checks signatures with").fill(secret);
      await tab.getByRole("button", { name: "Add the secret" }).click();
    },
  };
};

test("another tool is added, told of a tag, told again after it was down, and removed", async ({ page }) => {
  await signIn(page, "owner");
  await open(page, "/desk/settings");
  await page.getByRole("link", { name: "Webhooks" }).click();
  await open(page, "/desk/webhooks");
  await page.getByRole("button", { name: "Add an endpoint" }).click();
  const form = page.getByRole("form", { name: "A new endpoint" });
  await form.getByRole("textbox", { name: "Address" }).fill("tool");
  await form.getByLabel(/an order is paid/).uncheck();
  await form.getByRole("button", { name: "Add this endpoint" }).click();
  await expect(form.getByRole("alert").filter({ hasText: "Choose at least one thing that is told." })).toBeVisible();
  await expect(form.getByRole("alert").first()).toBeVisible();
  const address = `${stack().HOOKS_URL}?from=desk`;
  await form.getByRole("textbox", { name: "Address" }).fill(address);
  await form.getByLabel(/somebody gets a tag/).check();
  await form.getByRole("button", { name: "Add this endpoint" }).click();
  await expect(page.getByText("Added. It is told what happens from now on.")).toBeVisible();
  const pane = page.getByRole("region", { name: new URL(address).host, exact: true });
  await expect(pane.getByText("nothing has happened yet that it is told of.")).toBeVisible();

  await pane.getByRole("button", { name: "Show the secret" }).click();
  const secret = (await pane.getByText(/^whsec_/).innerText()).trim();
  const tool = await otherTool(page);
  await tool.checksBy(secret);
  await page.bringToFront();
  await pane.getByRole("button", { name: "Send a test" }).click();
  const messages = page.getByRole("region", { name: /^Messages to/ });
  const line = (type: string) => messages.getByRole("listitem").filter({ hasText: type });
  await expect(line("webhook.test")).toContainText(/arrived/, { timeout: 90_000 });
  await expectAccessible(page);
  const id = (await line("webhook.test").locator("summary span").innerText()).trim();
  await tool.look();
  await expect(tool.tab.getByRole("row").filter({ hasText: id })).toContainText("signature holds");

  await tool.answers("is down (503, try again in 10 minutes)");
  const people = await page.context().newPage();
  await open(people, "/desk/people");
  await people.getByRole("searchbox", { name: "Find by name or address" }).fill("petra.primer");
  await expect(people.getByRole("cell", { name: /^petra\.primer/ }).first()).toBeVisible();
  await people.getByRole("table").getByRole("checkbox").last().check();
  await people.getByLabel("Tag for those that are ticked").fill("met in person");
  await people.getByRole("button", { name: "Tag 1 person" }).click();
  await expect(people.getByText("1 person got the tag “met in person”.")).toBeVisible();
  await people.close();
  await page.bringToFront();
  await expect(line("person.tagged")).toContainText(/1 try in vain, answered 503; next/, { timeout: 90_000 });
  await expect(pane.getByText(/1 waits, 1 of them tried in vain|1 waits/)).toBeVisible();
  await tool.answers("takes everything");
  await page.bringToFront();
  await line("person.tagged").locator("summary").click();
  await expect(line("person.tagged").locator("pre")).toContainText('"tag": "met in person"');
  await line("person.tagged").getByRole("button", { name: "Send it again" }).click();
  await expect(line("person.tagged")).toContainText(/arrived/, { timeout: 90_000 });
  await tool.look();
  const rows = tool.tab.getByRole("row").filter({ hasText: "met in person" });
  await expect(rows).toHaveCount(2);
  await expect(rows.first()).toContainText("came before");
  await expect(rows.first()).toContainText("signature holds");

  await page.bringToFront();
  await pane.getByRole("button", { name: "Switch it off" }).click();
  await expect(pane.getByText(/^Switched off\./)).toBeVisible();
  await page.reload();
  await awake(page);
  await expect(pane.getByRole("button", { name: "Switch it on" })).toBeVisible();
  await pane.getByRole("button", { name: "Remove it" }).click();
  await page.getByRole("dialog", { name: "Remove this endpoint" }).getByRole("button", { name: "Remove it" }).click();
  await expect(page.getByRole("button", { name: address })).toHaveCount(0);
});

test("who may only look sees nothing of other tools", async ({ page }) => {
  await signIn(page, "viewer");
  await open(page, "/desk/settings");
  await expect(page.getByRole("link", { name: "Webhooks" })).toHaveCount(0);
  const answer = await page.goto(at("/desk/webhooks"));
  expect(answer!.status()).toBe(403);
});
