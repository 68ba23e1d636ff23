import { expect, test } from "@playwright/test";
import { at, awake, emails, expectAccessible, open, setQuietHours, signIn } from "./desk";

test.describe.configure({ mode: "serial" });

test("an email of a launch is read as somebody gets it, sent as a test, changed with what that moves, and brought back", async ({ page }) => {
  await signIn(page, "owner");
  await open(page, "/desk/gansey/emails");
  await expect(page.getByRole("img", { name: "8 emails along the bells" })).toBeVisible();
  const row = page.getByRole("row").filter({ hasText: "Tonight the doors close" });
  await expect(row).toContainText("16 hours before the closing bell");
  await row.getByRole("button").press("Enter");
  await expect(page).toHaveURL(/email=/);
  const preview = page.getByRole("region", { name: "As it is read" });
  await expect(preview.getByRole("heading")).toHaveText("Tonight the doors close");
  await expect(preview.getByText(/^as anybody gets it, .* Lisbon$/)).toBeVisible();
  await expect(preview.frameLocator("iframe").getByText("Hello there,")).toBeVisible();
  await expectAccessible(page);
  await preview.getByRole("button", { name: "Send it to me as a test" }).click();
  await expect(page.getByText("Sent to owner@marram.example.")).toBeVisible();
  await expect.poll(async () => (await emails("owner@marram.example")).map(({ subject }) => subject)).toContain("Test: Tonight the doors close");
  // Changed, it says what that moves before it is made.
  await page.getByText("Change when it goes", { exact: true }).click();
  await page.getByLabel("Offset", { exact: true }).fill("17");
  await page.getByRole("button", { name: "See what that changes" }).click();
  const change = page.getByRole("region", { name: "What this changes" });
  await expect(change).toContainText("Tonight the doors close");
  await change
    .getByRole("button", { name: /^Change it/ })
    .first()
    .click();
  await expect(page.getByText("Changed. Every page, email and picture shows it from now on.")).toBeVisible();
  await page.reload();
  await awake(page);
  await expect(page.getByRole("row").filter({ hasText: "Tonight the doors close" })).toContainText("17 hours before the closing bell");
  await page.getByRole("button", { name: "Undo the newest change" }).click();
  await expect(page.getByText(/^Undone: /)).toBeVisible();
  await expect(page.getByRole("row").filter({ hasText: "Tonight the doors close" })).toContainText("16 hours before the closing bell");
});

test("a new email is written, and taken out again before it is made; who may only look changes and tests nothing", async ({ page, browser }) => {
  await signIn(page, "owner");
  await open(page, "/desk/gansey/emails");
  await page.getByRole("button", { name: "Add an email" }).press("Enter");
  await expect(page.getByRole("row").filter({ hasText: "no subject yet" })).toContainText("3 hours before the closing bell");
  await expect(page.getByText("It is new: once it is made it can be written, and read here as somebody gets it.")).toBeVisible();
  await page.getByRole("button", { name: "Remove this email" }).press("Enter");
  await expect(page.getByText("Changed here, not made yet")).toBeHidden();
  await expect(page.locator("body")).not.toBeFocused();
  const viewer = await (await browser.newContext()).newPage();
  await signIn(viewer, "viewer");
  await open(viewer, "/desk/gansey/emails");
  await viewer.getByRole("row").filter({ hasText: "are open" }).getByRole("button").click();
  await expect(viewer.getByRole("region", { name: "As it is read" }).getByRole("heading")).toContainText("are open");
  await expect(viewer.getByRole("button", { name: "Send it to me as a test" })).toHaveCount(0);
  await expect(viewer.getByRole("button", { name: "Add an email" })).toHaveCount(0);
});

test("seen as a person, each email says when it goes to them, or why it does not", async ({ page }) => {
  await signIn(page, "owner");
  await open(
    page,
    `/desk/people?${new URLSearchParams({ who: 'all of (paid of launch "The Gansey Workshop"; opted in of launch "The Gansey Workshop")' })}`,
  );
  await page.getByRole("table").getByRole("link").first().click();
  await awake(page);
  const as = await page.getByRole("link", { name: "See the launch as them" }).first().getAttribute("href");
  await open(page, as!.replace("/score", "/emails"));
  await page.getByRole("row").filter({ hasText: "Last call" }).getByRole("button").click();
  await expect(page.getByText("It does not go to them: its reader has bought. Others get this.")).toBeVisible();
});

test("an email is written in blocks, checked, published, sent as a test, and read on a phone", async ({ page }) => {
  await signIn(page, "owner");
  await open(page, "/desk/gansey/emails/last-hour");
  const proof = page.frameLocator('iframe[title="The email"]');
  await expect(proof.getByText("Hello there,")).toBeVisible();
  // A misspelt field is named, and keeps the email from being published.
  await page.getByLabel("Subject", { exact: true }).fill("Last call, {frist name}");
  const checks = page.getByRole("list", { name: "What the email lacks" });
  await expect(checks).toContainText("{frist name} is not a field.");
  await page.getByRole("button", { name: "Publish it" }).click();
  await expect(page.getByRole("dialog", { name: "Not yet" })).toContainText("{frist name} is not a field.");
  await page.keyboard.press("Escape");
  // A field is put in where the caret is.
  await page.getByLabel("Subject", { exact: true }).fill("Last call, ");
  await page.getByText("Put in a field").click();
  await page.getByRole("button", { name: "first name", exact: true }).press("Enter");
  await expect(page.getByLabel("Subject", { exact: true })).toHaveValue("Last call, {first name, else there}");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Last call, there");
  // A block is added by its name and written; the proof follows.
  await page.getByRole("combobox", { name: "type here to add a block:" }).fill("headline");
  await page.keyboard.press("Enter");
  await page.getByRole("textbox", { name: "Headline", exact: true }).fill("This is the last hour.");
  await expect(proof.getByRole("heading", { name: "This is the last hour." })).toBeVisible();
  await expect(page.getByText(/, saved$/)).toBeVisible();
  await page.getByRole("button", { name: "Publish it" }).click();
  await page.getByRole("dialog", { name: "Publish this email" }).getByRole("button", { name: "Publish it" }).click();
  await expect(page.getByText("It goes out like this from now on.")).toBeVisible();
  await page.getByRole("button", { name: "Send me a test" }).click();
  await expect
    .poll(async () => (await emails("owner@marram.example")).find(({ subject }) => subject === "Test: Last call, there")?.text)
    .toContain("This is the last hour.");
  await page.getByRole("group", { name: "Width of the email" }).getByRole("button", { name: "Phone" }).click();
  const wide = await proof.locator("body").evaluate((body) => [body.scrollWidth, body.ownerDocument.documentElement.clientWidth]);
  expect(wide[0]).toBeLessThanOrEqual(wide[1]!);
  await expectAccessible(page);
  await open(page, "/desk/gansey/emails");
  await expect(page.getByRole("row").filter({ hasText: "Last call, there" })).toBeVisible();
  await open(page, "/desk/gansey/emails/no-such-email");
  await expect(page).toHaveTitle(/not/i);
});

test("the words of a welcome are the vendor's own, and whoever may only look changes none", async ({ page, browser }) => {
  await signIn(page, "owner");
  await open(page, "/desk/gansey/emails");
  await page.getByRole("region", { name: "Emails to one person" }).getByRole("link", { name: "Welcome" }).click();
  await awake(page);
  await expect(page.getByText("goes out like this")).toBeVisible();
  await page.getByLabel("Preview line", { exact: true }).fill("Three films, one door");
  await expect(page.getByText("changed since it was published")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("goes out like this")).toBeVisible();
  const viewer = await (await browser.newContext()).newPage();
  await signIn(viewer, "viewer");
  await open(viewer, "/desk/gansey/emails/welcome");
  await expect(viewer.getByText("You may look at this email; owners and editors change it.")).toBeVisible();
  await expect(viewer.getByRole("button", { name: "Send me a test" })).toBeDisabled();
});

test("quiet hours move the last email before the close, and an email may go at a time of day", async ({ page, browser }) => {
  await signIn(page, "owner");
  await open(page, "/desk/settings");
  await page.getByLabel("Quiet from").fill("21:00");
  await page.getByLabel("Quiet until").fill("21:00");
  await page.getByLabel("Most emails to one person in 24 hours").focus();
  await expect(page.getByText("Quiet hours end at another time than they begin.")).toBeVisible();
  await page.getByLabel("Most emails to one person in 24 hours").fill("none");
  await page.getByLabel("Most emails a minute").focus();
  await expect(page.getByText("A number, or nothing for no limit.")).toBeVisible();
  await page.getByLabel("Most emails to one person in 24 hours").fill("");
  await setQuietHours(page, "21:00", "07:30");
  await expectAccessible(page);
  await open(page, "/desk/gansey/emails");
  const row = page.getByRole("row").filter({ hasText: "1 hour before the closing bell" });
  await expect(row).toContainText(/20:45.*before quiet hours, not 23:00/);
  await row.getByRole("button").click();
  await page.getByText("Change when it goes", { exact: true }).click();
  await page.getByLabel("At", { exact: true }).fill("18:00");
  await expect(page.getByRole("alert").filter({ hasText: "With a time of day, whole days." }).first()).toBeVisible();
  await page.getByLabel("Offset", { exact: true }).fill("48");
  await expect(page.getByRole("row").filter({ hasText: "2 days before the closing bell, at 18:00" })).toBeVisible();
  await page.getByRole("button", { name: "Back to what holds" }).click();
  const viewer = await (await browser.newContext()).newPage();
  await signIn(viewer, "viewer");
  await open(viewer, "/desk/settings");
  await expect(viewer.getByRole("region", { name: "Sending" })).toHaveAttribute("inert", "");
});

test("a reader chooses fewer emails, or none, without script", async ({ browser, page }) => {
  const context = await browser.newContext({ javaScriptEnabled: false, viewport: { width: 390, height: 844 } });
  const reader = await context.newPage();
  const address = `fewer.${Date.now()}@heddle.example`;
  await reader.goto(at("/l/primer"));
  await reader.getByLabel("First name").fill("Una");
  await reader.getByLabel("Email").fill(address);
  await reader.getByRole("checkbox").check();
  await reader.locator("form[action*=opt-in] button").click();
  await expect.poll(async () => (await emails(address)).length).toBe(1);
  const [welcome] = await emails(address);
  await reader.goto(/http\S+unsubscribe\?u=\S+/.exec(welcome!.text)![0]);
  await reader.getByLabel("One a week at most").check();
  await reader.getByLabel("Nothing more about The Cast-On Primer").check();
  await reader.getByRole("button", { name: "Save this" }).click();
  await expect(reader.getByRole("heading", { name: "Saved." })).toBeVisible();
  await expect(reader.getByLabel("One a week at most")).toBeChecked();
  await signIn(page, "owner");
  await open(page, `/desk/people?find=${address}`);
  await page.getByRole("link", { name: "Una" }).first().click();
  await awake(page);
  await expect(page.getByText(/^They asked for one email a week at most/)).toBeVisible();
  await reader.getByRole("button", { name: "Unsubscribe from everything" }).click();
  await expect(reader.getByRole("heading", { name: "You are unsubscribed." })).toBeVisible();
  await expect(reader.getByRole("button")).toHaveCount(0);
  await context.close();
});

test("an address that mail comes back from is named on the person, and written to again; emails are signed with a key of the vendor's", async ({
  page,
  browser,
}) => {
  const visitor = await (await browser.newContext()).newPage();
  const address = `gone.${Date.now()}@heddle.example`;
  await visitor.goto(at("/l/primer"));
  await visitor.getByLabel("First name").fill("Wilf");
  await visitor.getByLabel("Email").fill(address);
  await visitor.getByRole("checkbox").check();
  await visitor.locator("form[action*=opt-in] button").click();
  await expect.poll(async () => (await emails(address)).length).toBe(1);
  await signIn(page, "owner");
  await open(page, `/desk/people?find=${address}`);
  await page.getByRole("link", { name: "Wilf" }).first().click();
  await expect
    .poll(async () => {
      await page.reload();
      return page.getByText(/^Mail to this address came back .*: “550 5.1.1 The account does not exist”/).count();
    })
    .toBe(1);
  await awake(page);
  await page.getByRole("button", { name: "Write to it again" }).click();
  await expect(page.getByText("Emails go to this address again.")).toBeVisible();
  await expect(page.getByText(/^Mail to this address came back/)).toHaveCount(0);
  await open(page, "/desk/settings");
  const signing = page.getByRole("region", { name: "Signed emails" });
  await signing.getByRole("button", { name: "Make a key" }).click();
  await expect(signing.getByText(/^bell\d{8}\w{4}\._domainkey\.marram\.example$/)).toBeVisible();
  await signing.getByRole("button", { name: "The record is published: sign with it" }).click();
  await expect(signing.getByText(/signs since/)).toBeVisible();
  await expectAccessible(page);
  await open(page, "/desk/gansey/emails");
  await page.getByRole("row").filter({ hasText: "The doors are open" }).getByRole("button").click();
  await page.getByRole("button", { name: "Send it to me as a test" }).click();
  await expect
    .poll(async () => (await emails("owner@marram.example")).some(({ raw }) => /^DKIM-Signature: .*d=marram\.example/m.test(raw)))
    .toBe(true);
});

test("a sequence is built, its step written, and it takes in whoever opts in from then on", async ({ page, browser }) => {
  await signIn(page, "owner");
  await open(page, "/desk/primer/emails");
  await page.getByRole("button", { name: "Add a sequence" }).press("Enter");
  await page.getByLabel("Name", { exact: true }).fill("First hours");
  const sequence = page.getByRole("region", { name: "First hours", exact: true });
  await sequence.getByRole("button", { name: "Add a step" }).press("Enter");
  await page.getByLabel("After the moment", { exact: true }).fill("0");
  await page.getByLabel("Then at", { exact: true }).fill("8 o’clock");
  await expect(page.getByRole("alert").filter({ hasText: "A time such as 20:00, or nothing." }).first()).toBeVisible();
  await page.getByLabel("Then at", { exact: true }).fill("");
  await expect(sequence).toContainText("at once");
  // To some of those in it alone, by the conditions that people are found by; and to everybody again.
  await page.getByRole("button", { name: "Only to some of them" }).click();
  await page.getByLabel("What is asked").selectOption({ label: "is tagged" });
  await page.getByLabel("Tag", { exact: true }).fill("knits daily");
  await page.keyboard.press("Tab");
  await expect(sequence).toContainText('who is tagged "knits daily"');
  await page.getByRole("listitem", { name: "Condition 1" }).getByRole("button", { name: "Remove" }).click();
  await expect(sequence).toContainText("everybody in it");
  await page.getByRole("button", { name: "See what that changes" }).click();
  const change = page.getByRole("region", { name: "What this changes" });
  await expect(change).toContainText("The sequence “First hours” begins");
  await change
    .getByRole("button", { name: /^Change it/ })
    .first()
    .click();
  await expect(page.getByText("It is not published yet: write it, and publish it. Until then it goes to nobody.")).toBeVisible();
  await page.getByRole("link", { name: "Write it" }).click();
  await awake(page);
  await expect(page.getByText("not published: it does not go out")).toBeVisible();
  await page.getByLabel("Subject", { exact: true }).fill("Welcome, {first name, else reader}");
  await expect(page.getByText(/, saved$/)).toBeVisible();
  await page.getByRole("button", { name: "Publish it" }).click();
  await page.getByRole("dialog", { name: "Publish this email" }).getByRole("button", { name: "Publish it" }).click();
  await expect(page.getByText("It goes out like this from now on.")).toBeVisible();
  // Whatever the hour at which this runs.
  await setQuietHours(page, "", "");
  // The sequence has to have looked once before somebody comes.
  await page.waitForTimeout(6_000);
  const visitor = await (await browser.newContext()).newPage();
  const address = `sequence.${Date.now()}@heddle.example`;
  await visitor.goto(at("/l/primer"));
  await visitor.getByLabel("First name").fill("Una");
  await visitor.getByLabel("Email").fill(address);
  await visitor.getByRole("checkbox").check();
  await visitor.locator("form[action*=opt-in] button").click();
  await expect.poll(async () => (await emails(address)).map(({ subject }) => subject), { timeout: 30_000 }).toContain("Welcome, reader");
  await open(page, "/desk/primer/emails");
  await expect(page.getByRole("region", { name: "First hours", exact: true })).toContainText("1 person taken in");
});
