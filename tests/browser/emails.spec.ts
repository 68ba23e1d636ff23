import { expect, test } from "@playwright/test";
import { at, awake, emails, expectAccessible, linkIn, open, sendWithoutLimits, setSending, signIn } from "./desk";

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
  await setSending(page, { "Quiet from": "21:00", "Quiet until": "07:30" });
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

test("a sequence is built, its step written, and it takes in whoever opts in; who clicks is counted, and a program that follows every link is not", async ({
  page,
  browser,
}) => {
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
  await expect(sequence).toContainText('whoever is tagged "knits daily"');
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
  await sendWithoutLimits(page);
  // The sequence has to have looked once before somebody comes.
  await page.waitForTimeout(6_000);
  const joins = async (address: string) => {
    const visitor = await (await browser.newContext()).newPage();
    await visitor.goto(at("/l/primer"));
    await visitor.getByLabel("First name").fill("Una");
    await visitor.getByLabel("Email").fill(address);
    await visitor.getByRole("checkbox").check();
    await visitor.locator("form[action*=opt-in] button").click();
    await expect.poll(async () => (await emails(address)).map(({ subject }) => subject), { timeout: 90_000 }).toContain("Welcome, reader");
    await visitor.context().close();
    return (await emails(address)).find(({ subject }) => subject === "Welcome, reader")!;
  };
  await joins(`machine.${Date.now()}@heddle.example`);
  const address = `sequence.${Date.now()}@heddle.example`;
  const { text } = await joins(address);
  // Read on another device, which has never been here: the page opens by its reader's own clock.
  const phone = await (await browser.newContext()).newPage();
  await phone.goto(linkIn(text));
  await expect(phone).toHaveURL(/\/l\/primer$/);
  await expect(phone.locator("[data-until]").first()).toBeVisible();
  await phone.context().close();
  // A click counts a few seconds later, when it shows whether other links were followed at the same time.
  const cells = page.getByRole("region", { name: "First hours", exact: true }).getByRole("row").last().getByRole("cell");
  await expect(async () => {
    await open(page, "/desk/primer/emails");
    await expect(cells.nth(2)).toHaveText("2", { timeout: 3_000 });
    await expect(cells.nth(4)).toHaveText("150 %", { timeout: 1_000 });
  }).toPass({ timeout: 90_000, intervals: [2_000] });
  await expect(page.getByRole("region", { name: "First hours", exact: true })).toContainText("2 people taken in");
  const clicked = page
    .getByRole("region", { name: "First hours", exact: true })
    .getByRole("row")
    .last()
    .getByRole("link", { name: "1", exact: true });
  await clicked.last().click();
  await expect(page.getByRole("row").filter({ hasText: address })).toBeVisible();
  await expect(page.getByText("1 person", { exact: true })).toBeVisible();
});

test("a one-off email is written, goes to those who meet its condition, and to nobody else; who may only look sends nothing", async ({
  page,
  browser,
}) => {
  await signIn(page, "owner");
  await sendWithoutLimits(page);
  await open(page, "/desk/people");
  await page.getByRole("searchbox", { name: "Find by name or address" }).fill("petra.primer");
  const found = page.getByRole("cell", { name: /^petra\.primer/ });
  await expect(found.nth(1)).toBeVisible();
  const [first, second] = (await found.allInnerTexts()).map((text) => text.split(/\s/)[0]!);
  await page.getByRole("searchbox").fill(first!);
  await expect(page.getByText("1 person", { exact: true })).toBeVisible();
  await page.getByRole("table").getByRole("checkbox").last().check();
  await page.getByLabel("Tag for those that are ticked").fill("swatch night");
  await page.getByRole("button", { name: "Tag 1 person" }).click();
  await expect(page.getByText("1 person got the tag “swatch night”.")).toBeVisible();

  await open(page, "/desk/primer/emails");
  await page.getByRole("button", { name: "Begin a one-off email" }).press("Enter");
  const pane = page.getByRole("region", { name: "Whom it goes to, and when" });
  await expect(pane.getByText(/would get it now: everybody who may be written to/)).toBeVisible();
  await pane.getByRole("button", { name: "Only to some of them" }).click();
  await pane.getByLabel("What is asked").selectOption({ label: "is tagged" });
  await pane.getByLabel("Tag", { exact: true }).fill("swatch night");
  await page.keyboard.press("Tab");
  await expect(pane.getByText("1 person would get it now, of 1 found.")).toBeVisible();
  // Nothing goes that nobody has published.
  await pane.getByRole("button", { name: "Send to 1 person" }).click();
  await page.getByRole("dialog", { name: "Send this email" }).getByRole("button", { name: "Send it to 1 person" }).click();
  await expect(page.getByText(/It is not published yet\./).last()).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("link", { name: "Write it" }).click();
  await awake(page);
  await page.getByLabel("Subject", { exact: true }).fill("Bring a swatch, {first name, else reader}");
  await expect(page.getByText(/, saved$/)).toBeVisible();
  await page.getByRole("button", { name: "Publish it" }).click();
  await page.getByRole("dialog", { name: "Publish this email" }).getByRole("button", { name: "Publish it" }).click();
  await expect(page.getByText("It goes out like this from now on.")).toBeVisible();

  await open(page, "/desk/primer/emails");
  const table = page.getByRole("region", { name: "One-off emails" }).first();
  await table.getByRole("button", { name: /^Bring a swatch/ }).click();
  const viewer = await (await browser.newContext()).newPage();
  await signIn(viewer, "viewer");
  await open(viewer, "/desk/primer/emails");
  await viewer.getByRole("button", { name: /^Bring a swatch/ }).click();
  await expect(viewer.getByText("1 person would get it now, of 1 found.")).toBeVisible();
  await expect(viewer.getByRole("button", { name: /^Send to/ })).toHaveCount(0);
  await viewer.context().close();
  await pane.getByRole("button", { name: "Send to 1 person" }).click();
  await page.getByRole("dialog", { name: "Send this email" }).getByRole("button", { name: "Send it to 1 person" }).dblclick();
  await expect.poll(async () => (await emails(first!)).filter(({ subject }) => /^Bring a swatch/.test(subject)).length, { timeout: 90_000 }).toBe(1);
  await expect(async () => {
    await open(page, "/desk/primer/emails");
    await expect(table.getByRole("row").last()).toContainText(/sent.*Bring a swatch.*\b1\b/s, { timeout: 2_000 });
  }).toPass({ timeout: 90_000 });
  expect((await emails(second!)).filter(({ subject }) => /^Bring a swatch/.test(subject))).toHaveLength(0);
});

test("a one-off email to a saved filter is paused while it goes out, let go on, and called off for those who wait", async ({ page }) => {
  await signIn(page, "owner");
  await sendWithoutLimits(page);
  // Slowly, so that it can be held while it goes.
  await setSending(page, { "Most emails a minute": "60" });
  await open(page, "/desk/gansey/emails");
  await page.getByRole("button", { name: "Begin a one-off email" }).press("Enter");
  const draft = page.getByRole("region", { name: "Whom it goes to, and when" });
  await draft.getByLabel("Saved filter").selectOption({ label: "On the list, not bought" });
  await expect(draft.getByRole("button", { name: /^Send to [\d,]+ people$/ })).toBeVisible();
  await page.getByRole("link", { name: "Write it" }).click();
  await awake(page);
  const subject = `Needles on loan ${Date.now()}`;
  await page.getByLabel("Subject", { exact: true }).fill(subject);
  await expect(page.getByText(/, saved$/)).toBeVisible();
  await page.getByRole("button", { name: "Publish it" }).click();
  await page.getByRole("dialog", { name: "Publish this email" }).getByRole("button", { name: "Publish it" }).click();
  await expect(page.getByText("It goes out like this from now on.")).toBeVisible();
  await open(page, "/desk/gansey/emails");
  const row = page.getByRole("row").filter({ hasText: subject });
  await expect(row).toContainText("to “On the list, not bought”");
  await row.getByRole("button").click();
  await draft.getByRole("button", { name: /^Send to/ }).click();
  await page
    .getByRole("dialog", { name: "Send this email" })
    .getByRole("button", { name: /^Send it to/ })
    .click();
  const goes = page.getByRole("region", { name: "How it goes out" });
  await expect(goes.getByText(/[1-9]\d* sent, [\d,]+ to go/)).toBeVisible({ timeout: 90_000 });
  await expectAccessible(page);
  await goes.getByRole("button", { name: "Pause" }).click();
  await expect(page.getByText("Paused: nobody else gets it until you let it go on.")).toBeVisible();
  const reached = async () => {
    await open(page, "/desk/gansey/emails");
    await row.getByRole("button").click();
    return (await goes.getByText(/ sent, .* to go/).textContent())!;
  };
  // What a worker had in hand goes; from then on nobody gets it.
  await page.waitForTimeout(4_000);
  const held = await reached();
  await page.waitForTimeout(5_000);
  expect(await reached()).toBe(held);
  await goes.getByRole("button", { name: "Let it go on" }).click();
  await expect(page.getByText("It goes on.")).toBeVisible();
  await expect(goes).not.toContainText(held, { timeout: 90_000 });
  await goes.getByRole("button", { name: "Call it off" }).click();
  await page
    .getByRole("dialog", { name: "Call this email off" })
    .getByRole("button", { name: /^Drop it for [\d,]+ people$/ })
    .click();
  await expect(page.getByText("Called off.")).toBeVisible();
  await expect(row).toContainText("called off");
  await setSending(page, { "Most emails a minute": "600" });
});

test("an email is kept as a template, another begins from it, and has a second version that goes to some of its readers", async ({ page }) => {
  await signIn(page, "owner");
  const name = `Bench notes ${Date.now()}`;
  await open(page, "/desk/gansey/emails/last-day");
  const subject = page.getByLabel("Subject", { exact: true });
  await expect(subject).not.toHaveValue("");
  await page.getByText("Keep as a template", { exact: true }).click();
  await page.getByRole("button", { name: "Keep it", exact: true }).click();
  await expect(page.getByRole("alert").filter({ hasText: "Give the template a name." })).toBeVisible();
  await page.getByLabel("Name of the template").fill(name);
  await page.getByRole("button", { name: "Keep it", exact: true }).click();
  await expect(page.getByText(`“${name}” is kept as a template for every launch.`)).toBeVisible();
  await page.getByLabel("Name of the template").fill(name);
  await page.getByRole("button", { name: "Keep it", exact: true }).click();
  await expect(page.getByRole("alert").filter({ hasText: "Another template has this name." })).toBeVisible();
  const words = await subject.inputValue();

  // In another launch, in place of what stands there; undone, that is back.
  await open(page, "/desk/mittens/emails/welcome");
  const own = await subject.inputValue();
  await page.getByText("Begin anew from a template", { exact: true }).click();
  await page.getByLabel("Template", { exact: true }).selectOption({ label: name });
  await page.getByRole("button", { name: "Replace this email with it" }).click();
  await expect(subject).toHaveValue(words);
  await page.getByRole("button", { name: "Undo", exact: true }).click();
  await expect(subject).toHaveValue(own);
  await page.getByRole("button", { name: "Delete this template" }).click();
  await expect(page.getByText(`“${name}” is no template any more.`)).toBeVisible();

  await page.getByRole("button", { name: "Test a second version" }).click();
  await expect(page).toHaveURL(/welcome~b$/);
  await awake(page);
  await expect(page.getByText("Until both are published, everybody gets version A.")).toBeVisible();
  await page.getByLabel("Version B goes to").fill("120");
  await page.keyboard.press("Tab");
  await expect(page.getByRole("alert").filter({ hasText: "A number from 0 to 100." })).toBeVisible();
  await page.getByLabel("Version B goes to").fill("20");
  await page.keyboard.press("Tab");
  await expect(page.getByText("Version B goes to 20 of 100 from now on.")).toBeVisible();
  await subject.fill("Another welcome");
  await expect(page.getByText(/, saved$/)).toBeVisible();
  await page.getByRole("button", { name: "Publish it" }).click();
  await page.getByRole("dialog", { name: "Publish this email" }).getByRole("button", { name: "Publish it" }).click();
  await expect(page.getByText("It goes out like this from now on.")).toBeVisible();
  await open(page, "/desk/mittens/emails/welcome");
  await expect(page.getByLabel("Version B goes to")).toHaveValue("20");
  await expect(subject).toHaveValue(own);
  await expect(page.getByText("Until both are published")).toHaveCount(0);
  await expectAccessible(page);
  await page.getByRole("link", { name: "Version B" }).click();
  await awake(page);
  await page.getByRole("button", { name: "Remove version B" }).click();
  await page.getByRole("dialog", { name: "Remove version B" }).getByRole("button", { name: "Remove version B" }).click();
  await expect(page).toHaveURL(/welcome$/);
  await expect(page.getByRole("button", { name: "Test a second version" })).toBeVisible();
});

test("a launch sends its emails under a name and address of its own", async ({ page }) => {
  await signIn(page, "owner");
  await open(page, "/desk/mittens/emails");
  await page.getByText(/^From Marram & Purl/).click();
  await page.getByRole("button", { name: "Another one for this launch" }).click();
  await page.getByLabel("Sender’s address").fill("mittens at nowhere");
  await expect(page.getByRole("alert").filter({ hasText: "This does not look like an email address." }).first()).toBeVisible();
  await page.getByLabel("Sender’s name").fill("Mittens");
  await page.getByLabel("Sender’s address").fill("mittens@weekend.example");
  await expect(page.getByText(/From another domain than marram\.example it goes unsigned/)).toBeVisible();
  await page.getByRole("button", { name: "See what that changes" }).click();
  const change = page.getByRole("region", { name: "What this changes" });
  await expect(change).toContainText("Emails of this launch come from Mittens <mittens@weekend.example> from now on.");
  await change.getByRole("button", { name: "Change it" }).click();
  await expect(page.getByText(/^From Mittens <mittens@weekend.example>/)).toBeVisible();
  await open(page, "/desk/mittens/emails/welcome");
  await page.getByRole("button", { name: "Send me a test" }).click();
  await expect(page.getByText("Sent to owner@marram.example.")).toBeVisible();
  const [test] = (await emails("owner@marram.example")).filter(({ raw }) => /From: "?Mittens"? <mittens@weekend\.example>/.test(raw));
  expect(test).toBeDefined();
  await open(page, "/desk/settings");
  const signing = page.getByRole("region", { name: "Signed emails" });
  await expect(signing.getByText("The sender of Mittens in a Weekend.")).toBeVisible();
  await signing.getByRole("button", { name: "Make a key for weekend.example" }).click();
  await expect(signing.getByText(/^bell\d{8}\w{4}\._domainkey\.weekend\.example$/)).toBeVisible();
});

test("a closing that is moved says how many were told another, and lets just them be written to", async ({ page }) => {
  await signIn(page, "owner");
  await open(page, "/desk/gansey/clock");
  const day = page.getByRole("group", { name: "Doors close", exact: true }).locator("[data-type=day]");
  await day.press("ArrowUp");
  await day.press("ArrowUp");
  await page.getByRole("button", { name: "See what that changes" }).click();
  const change = page.getByRole("region", { name: "What this changes" });
  await expect(change).toContainText(/[\d,]+ people got an email that names another closing\. Once it is moved, you can write to just them\./);
  await change.getByRole("button", { name: "Change it all the same" }).click();
  const moved = page.getByRole("region", { name: "A closing that was moved" });
  await expect(moved).toContainText(/[\d,]+ people were told another closing than/);
  await open(page, "/desk/gansey/score");
  await expect(moved).toBeVisible();
  await open(page, "/desk/gansey/emails");
  const write = moved.getByRole("button", { name: /^Write to just them: [\d,]+ people$/ });
  const people = /([\d,]+) people/.exec(await write.innerText())![1]!;
  await write.click();
  await expect(page.getByRole("heading", { name: "The Gansey Workshop closes at another time than we wrote" })).toBeVisible();
  const pane = page.getByRole("region", { name: "Whom it goes to, and when" });
  await expect(pane.getByText(`${people} people would get it now`)).toBeVisible();
  await expectAccessible(page);
  await pane.getByRole("button", { name: "Remove it" }).click();
  await page.getByRole("button", { name: "Undo the newest change" }).click();
  await open(page, "/desk/gansey/emails");
  await expect(page.getByRole("region", { name: "One-off emails" }).first()).toBeVisible();
  await expect(moved).toHaveCount(0);
});
