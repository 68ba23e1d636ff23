import { readFileSync } from "node:fs";
import { expect, test } from "@playwright/test";
import { at, awake, expectAccessible, open, signIn } from "./desk";

test("every number of the stream leads to its people, who can be asked for in other words", async ({ page }) => {
  await signIn(page, "viewer");
  await page.goto(at("/desk/gansey/leaks"));
  const lost = page.getByRole("link", { name: /left here/ }).last();
  const n = /^([\d,]+) left here/.exec((await lost.textContent())!.trim())![1]!;
  await lost.click();
  await expect(page.getByRole("heading", { name: "People" })).toBeVisible();
  await expect(page.getByText(`${n} people`)).toBeVisible();
  const who = page.getByLabel("Who");
  await expect(who).toHaveValue("all of (began a checkout; none of (paid))");
  await expectAccessible(page);

  // Page by page, without anybody twice.
  const emails = () => page.locator("tbody td:first-child .muted").allTextContents();
  const first = await emails();
  expect(first).toHaveLength(100);
  await page.getByRole("link", { name: "Next" }).click();
  await expect(page.getByRole("link", { name: "First" })).toBeVisible();
  expect((await emails()).filter((email) => email.includes("@") && first.includes(email))).toEqual([]);

  // What is not understood is said at the field, and stays as it was typed.
  await who.fill("all of (began a checkout; bought)");
  await page.getByRole("button", { name: "Show people" }).click();
  await expect(page.getByRole("alert")).toContainText("Not understood from “bought)” on");
  await expect(who).toHaveValue("all of (began a checkout; bought)");
  await expect(who).toHaveAttribute("aria-invalid", "true");
  await expectAccessible(page);
  await who.fill('paid of product "The Gansey Workshop"');
  await page.getByRole("button", { name: "Show people" }).click();
  await expect(page.locator("tbody tr").first()).toBeVisible();
  await who.fill("is in AQ");
  await page.getByRole("button", { name: "Show people" }).click();
  await expect(page.getByText("Nobody of this launch meets this condition.")).toBeVisible();

  // On a phone the table scrolls in its own frame.
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(at("/desk/gansey/people?who=paid"));
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});

test("a page's figures lead to who saw it", async ({ page }) => {
  await signIn(page, "owner");
  await page.goto(at("/desk/gansey/pages"));
  const figures = page.getByRole("link", { name: /^began a checkout: / }).first();
  const of = / of ([\d,]*\d)/.exec((await figures.textContent())!)![1]!;
  await figures.click();
  await expect(page.getByText(`${of} people`)).toBeVisible();
});

test("how long things are kept is set field by field", async ({ page }) => {
  await signIn(page, "owner");
  await open(page, "/desk/settings");
  const log = page.getByLabel("Event log, days");
  await log.fill("20");
  await log.blur();
  await expect(page.getByText("30 days at least; empty keeps it for good.")).toBeVisible();
  await expect(log).toHaveValue("20");
  await log.fill("three");
  await log.blur();
  await expect(page.getByText("A number of days; empty keeps it for good.")).toBeVisible();
  await log.fill("3000");
  await log.blur();
  await expect(page.getByText("Saved. What is older than 3000 days is deleted within the hour.")).toBeVisible();
  await expectAccessible(page);
  await open(page, "/desk/settings");
  await expect(log).toHaveValue("3000");
  await log.fill("");
  await log.blur();
  await expect(page.getByText("Saved. It is kept for good from now on.")).toBeVisible();
});

test("a person is found by typing, tagged among others, corrected, and written to no more", async ({ page, browser }) => {
  await signIn(page, "owner");
  await open(page, "/desk/people");
  await expect(page.getByText(/^[\d,]+ of [\d,]+ may be written to$/)).toBeVisible();
  await page.getByRole("searchbox", { name: "Find by name or address" }).fill("petra.gansey");
  await expect(page).toHaveURL(/find=petra\.gansey/);
  await expect(page.getByRole("link", { name: "Petra" }).first()).toBeVisible();
  const email = (
    await page
      .getByRole("cell", { name: /^petra\.gansey/ })
      .first()
      .innerText()
  ).split(/\s/)[0]!;
  await page.getByRole("searchbox").fill(email);
  await expect(page.getByText("1 person", { exact: true })).toBeVisible();
  await page.getByRole("table").getByRole("checkbox").last().check();
  await page.getByLabel("Tag for those that are ticked").fill("needs thread");
  await page.getByRole("button", { name: "Tag 1 person" }).click();
  await expect(page.getByText("1 person got the tag “needs thread”.")).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("link", { name: "Petra" }).click();
  await awake(page);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Petra");
  await expect(page.getByRole("region", { name: "What happened" }).getByRole("listitem").first()).toBeVisible();
  await expect(page.getByRole("region", { name: "Tags" })).toContainText("needs thread");
  await page.getByRole("button", { name: "Remove the tag needs thread" }).click();
  await expect(page.getByText("“needs thread” was removed.")).toBeVisible();
  await page.getByRole("button", { name: "Add the tag" }).click();
  await expect(page.getByText("Write something first.")).toBeVisible();
  const who = page.getByRole("region", { name: "Who they are" });
  await who.getByLabel("First name").fill("www.elsewhere.example");
  await who.getByRole("button", { name: "Save the correction" }).click();
  await expect(who.getByText("A name alone, please, without an address or a link.")).toBeVisible();
  await who.getByLabel("First name").fill("Petronella");
  await who.getByRole("button", { name: "Save the correction" }).click();
  await expect(page.getByText("Corrected.", { exact: true })).toBeVisible();
  const [file] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name: "Download this record as JSON" }).click()]);
  expect(readFileSync(await file.path(), "utf8")).toContain(email);
  await page.getByRole("button", { name: "Stop all emails to them" }).press("Enter");
  await expect(page.getByRole("region", { name: "Consent" })).toContainText("Unsubscribed");
  await expect(page.locator("body")).not.toBeFocused();
  await page.getByRole("link", { name: "See the launch as them" }).first().click();
  await expect(page.getByRole("button", { name: /As seen/ })).toContainText("Petronella");
  // Whoever may only look sees the person, and changes nothing.
  const viewer = await (await browser.newContext()).newPage();
  await signIn(viewer, "viewer");
  await open(viewer, `/desk/people?find=${email}`);
  await expect(viewer.getByRole("link", { name: /as CSV/ })).toHaveCount(0);
  await viewer.getByRole("link", { name: "Petronella" }).click();
  await expect(viewer.getByRole("heading", { level: 1 })).toContainText("Petronella");
  await awake(viewer);
  await expect(viewer.getByRole("button", { name: /Stop all emails|Save the correction|Add the tag/ })).toHaveCount(0);
});

test("people are filtered row by row or in words, the filter is saved, and all who are found are tagged", async ({ page, browser }) => {
  await signIn(page, "owner");
  await open(page, "/desk/people");
  await page.getByRole("button", { name: "Filter by what people did" }).click();
  const row = (n: number) => page.getByRole("listitem", { name: `Condition ${n}` });
  await row(1).getByLabel("Launch").selectOption("Yoke and Colour");
  await page.getByRole("button", { name: "Add a condition" }).click();
  await row(2).getByLabel("Whether it holds").selectOption("without");
  await row(2).getByLabel("What is asked").selectOption("paid");
  await page.getByRole("button", { name: "Add a condition" }).click();
  await row(3).getByLabel("What is asked").selectOption("is in");
  await expect(row(3)).toContainText("not complete, so it is left out");
  await row(3).getByLabel("Country").selectOption("DE");
  await expect(row(3)).not.toContainText("not complete");
  await expect(page.getByRole("table").getByRole("row").nth(1)).toContainText("Germany");
  await expect(page).toHaveURL(/who=all\+of/);
  const counted = /^([\d,]+) (?:person|people)$/;
  const n = counted.exec((await page.getByRole("main").getByText(counted).first().textContent())!)![1]!;
  await page.getByLabel("Name for this filter").fill("Yoke, from Germany");
  await page.getByRole("button", { name: "Save this filter" }).click();
  await expect(page.getByText("“Yoke, from Germany” is saved.")).toBeVisible();
  const saved = page.getByRole("list", { name: "Saved filters" });
  await expect(saved.getByRole("listitem").filter({ hasText: "Yoke, from Germany" })).toContainText(n);
  await expectAccessible(page);

  // All of them are tagged by one press, and the tag can be asked for.
  await page.getByLabel("Tag for all who are found").fill("write in German");
  await page.getByRole("button", { name: /^Tag all .* found$/ }).click();
  await expect(page.getByText(new RegExp(`^${n} (person|people) got the tag “write in German”\\.$`))).toBeVisible();
  await expect(page.getByRole("table").getByRole("row").nth(1)).toContainText("write in German");

  // The address restores it for a colleague, who may look and not change.
  const viewer = await (await browser.newContext()).newPage();
  await signIn(viewer, "viewer");
  await open(viewer, new URL(page.url()).pathname + new URL(page.url()).search);
  await expect(viewer.getByRole("list", { name: "Saved filters" }).getByRole("button", { name: "Yoke, from Germany" })).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  await expect(viewer.getByRole("main").getByText(counted).first()).toContainText(n);
  await expect(viewer.getByRole("button", { name: /^(Save this filter|Delete|Tag all)/ })).toHaveCount(0);

  // In words: groups inside of one another, and a word that makes no sense.
  await page.getByText("As text").click();
  const words = page.getByLabel("Condition", { exact: true });
  await words.fill('all of (is tagged "write in German"; any of (paid; none of (none of (is in DE))))');
  await expect(page.getByText("change it as text")).toBeVisible();
  await expect(page.getByRole("main").getByText(counted).first()).toContainText(n);
  await words.fill("all of (paid; bought)");
  await expect(page.getByText("Not understood from “bought)” on")).toBeVisible();
  await words.fill("");
  await expect(page.getByRole("button", { name: "Filter by what people did" })).toBeVisible();
  await saved.getByRole("button", { name: "Yoke, from Germany" }).click();
  await page.getByRole("button", { name: "Delete “Yoke, from Germany”" }).click();
  await expect(saved).not.toContainText("Yoke, from Germany");
  await expect(page.locator("body")).not.toBeFocused();
  // A row that is removed leaves the focus with the filter, and the others as they were.
  await row(1)
    .getByRole("button", { name: /^Remove/ })
    .press("Enter");
  await expect(row(1).getByLabel("Whether it holds")).toHaveValue("not");
  await expect(page.locator("body")).not.toBeFocused();
});

test("a file of people is checked, brought in without its bad lines, and the mended lines come after", async ({ page, browser }) => {
  await signIn(page, "owner");
  await open(page, "/desk/people");
  await page.getByRole("link", { name: "Import people" }).click();
  await awake(page);
  await page.getByRole("button", { name: "Upload the file" }).click();
  await expect(page.getByRole("alert")).toContainText("Choose a file.");
  const file = (name: string, body: string) => page.getByLabel("File").setInputFiles({ name, mimeType: "text/csv", buffer: Buffer.from(body) });
  await file("sheet.xlsx", "PK\u0003\u0004");
  await page.getByRole("button", { name: "Upload the file" }).click();
  await expect(page.getByText("This is no CSV file.")).toBeVisible();
  await file(
    "fair.csv",
    "Email;First name;Groups;Opt-in date\nzoe@shed.example;Zoe;fair, spinners;2026-02-03\nno address;Finn;;\nilse@shed.example;Ilse;spinners;31.12.2025\n",
  );
  await page.getByRole("button", { name: "Upload the file" }).click();
  await awake(page);
  await expect(page.getByText("3 lines", { exact: true })).toBeVisible();
  await expect(page.getByLabel("What Email holds")).toHaveValue("email");
  await page.getByLabel("What Groups holds").selectOption("tags");
  await page.getByRole("radio", { name: /^They agreed/ }).check();
  await page.getByRole("button", { name: "Check the file" }).click();
  await expect(page.getByText("Write down what they agreed to")).toBeVisible();
  await page.getByLabel("What they agreed to").fill("Yes, write to me about wool.");
  await page.getByLabel("Tag for everybody in the file").fill("spring fair");
  await page.getByRole("button", { name: "Check the file" }).press("Enter");
  await expect(page.getByText("1 person would be added, 2 lines refused.")).toBeVisible();
  await expect(page.locator("body")).not.toBeFocused();
  await expectAccessible(page);
  const [refused] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name: "Download 2 lines as CSV" }).click()]);
  await page.getByRole("button", { name: "Bring in 1 person" }).click();
  await expect(page.getByText("Done. 1 person added, 2 lines refused.")).toBeVisible();

  // What was refused is mended where it stands, and brought in.
  const mended = readFileSync(await refused.path(), "utf8")
    .replace("no address", "finn@shed.example")
    .replace("31.12.2025", "2025-12-31");
  await page.getByRole("link", { name: "Another file" }).click();
  await awake(page);
  await file("mended.csv", mended);
  await page.getByRole("button", { name: "Upload the file" }).click();
  await awake(page);
  await page.getByLabel("Tag for everybody in the file").fill("spring fair");
  await page.getByRole("button", { name: "Check the file" }).click();
  await page.getByRole("button", { name: "Bring in 2 people" }).click();
  await page.getByRole("link", { name: "Show who is tagged “spring fair”" }).click();
  await awake(page);
  await expect(page.getByText("1 of 3 may be written to")).toBeVisible();
  await page.getByRole("link", { name: "Zoe" }).click();
  await awake(page);
  await expect(page.getByRole("region", { name: "Consent" })).toContainText("as the file fair.csv states");
  await expect(page.getByRole("region", { name: "What happened" })).toContainText("brought in from fair.csv, line 2");

  const viewer = await (await browser.newContext()).newPage();
  await signIn(viewer, "viewer");
  await open(viewer, "/desk/people");
  await expect(viewer.getByRole("link", { name: "Import people" })).toHaveCount(0);
  await viewer.goto(at("/desk/people/import"));
  await expect(viewer.getByText("this needs owner or editor")).toBeVisible();
});

test("two records of one person are merged, once what that changes has been read", async ({ page }) => {
  await signIn(page, "owner");
  await open(page, "/desk/people?find=hanne.gansey&sort=since");
  const rows = page.getByRole("table").getByRole("row");
  const addressIn = async (n: number) => (await rows.nth(n).getByRole("cell").nth(2).innerText()).split(/\s/)[0]!;
  await expect(rows.nth(2)).toBeVisible();
  const [elder, younger] = [await addressIn(1), await addressIn(2)];
  await rows.nth(2).getByRole("link").click();
  await awake(page);
  await page.getByLabel("Merge with another record of theirs").fill(elder);
  await page.getByRole("list", { name: "Records found" }).getByRole("button").first().click();
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText(`${elder}, the older record, is kept; ${younger} leads to it`);
  await expectAccessible(page);
  await dialog.getByRole("button", { name: "Merge for good" }).click();
  await expect(page.getByText("The two records are one.")).toBeVisible();
  await expect(page.getByText(`Also known by ${younger}`)).toBeVisible();
  await open(page, `/desk/people?find=${younger}`);
  await expect(page.getByText("1 person", { exact: true })).toBeVisible();
  await expect(rows.nth(1)).toContainText(elder);
});

test("a person who asks for it is erased by the owner, and found nowhere but on their order by whoever keeps the books", async ({
  page,
  browser,
}) => {
  await signIn(page, "owner");
  await open(page, `/desk/people?${new URLSearchParams({ who: "spent at least 1.00 EUR", sort: "name" })}`);
  const row = page.getByRole("table").getByRole("row").nth(1);
  const email = (await row.getByRole("cell").nth(2).innerText()).split(/\s/)[0]!;
  await row.getByRole("link").click();
  await awake(page);
  const order = page.getByRole("link", { name: /^order \d+/ }).first();
  const orderHref = (await order.getAttribute("href"))!;
  const name = (await page.getByRole("heading", { level: 1 }).innerText()).trim();
  await page.getByRole("button", { name: "Erase this person…" }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText(/\d+ orders? keeps? name and address for the books/);
  await expectAccessible(page);
  await dialog.getByRole("button", { name: "Cancel" }).click();
  await expect(page.getByRole("button", { name: "Erase this person…" })).toBeFocused();
  await page.getByRole("button", { name: "Erase this person…" }).click();
  await dialog.getByRole("button", { name: /^Erase .* for good$/ }).click();
  await expect(page.getByText(/ is erased\.$/)).toBeVisible();
  await awake(page);
  await page.getByRole("searchbox", { name: "Find by name or address" }).fill(email);
  await expect(page.getByText("Nobody is found")).toBeVisible();
  await page.goto(at(`/desk/orders?search=${encodeURIComponent(email)}`));
  await expect(page.getByRole("main")).not.toContainText(name + ",");
  await page.goto(at(orderHref));
  await expect(page.getByText(`${email} (erased on their request)`)).toBeVisible();
  const viewer = await (await browser.newContext()).newPage();
  await signIn(viewer, "viewer");
  await viewer.goto(at(orderHref));
  await expect(viewer.getByText("the buyer was erased on their request")).toBeVisible();
  await expect(viewer.getByText(email)).toHaveCount(0);
});

test("a rule fills a field and tags whoever joins from then on; the record says where their browser is, and is not overwritten", async ({
  page,
  browser,
}) => {
  await signIn(page, "owner");
  await open(page, "/desk/people/rules");
  const fields = page.getByRole("region", { name: "Your own fields" });
  await fields.getByLabel("Field name").fill("Size of hands");
  await fields.getByLabel("Holds").selectOption("one of some choices");
  await fields.getByRole("button", { name: "Add this field" }).click();
  await expect(fields.getByText("Write something first.")).toBeVisible();
  await fields.getByLabel("Choices, one a line").fill("small\nlarge");
  await fields.getByRole("button", { name: "Add this field" }).click();
  await expect(fields.getByRole("listitem").filter({ hasText: "Size of hands" })).toContainText("small, large");
  // From a filter of the list a rule is made with its condition.
  await open(page, `/desk/people?${new URLSearchParams({ who: "opted in" })}`);
  await page.getByRole("link", { name: "Make a rule of it" }).click();
  await awake(page);
  await expect(page.getByLabel(/^The [\d,]+ people who meet it already, too$/)).toBeChecked();
  await page.getByLabel(/already, too$/).uncheck();
  await page.getByRole("button", { name: "Make this rule" }).click();
  await expect(page.getByText("Write something first.")).toBeVisible();
  await page.getByLabel("Tag", { exact: true }).fill("by a rule");
  await page.getByRole("button", { name: "Make this rule" }).click();
  await expect(page.getByText("The rule is made. It dealt with 0 people at once.")).toBeVisible();
  await expectAccessible(page);
  const context = await browser.newContext({ timezoneId: "Atlantic/Azores", locale: "pt-PT" });
  const visitor = await context.newPage();
  const email = `rule.${Date.now()}@walk.example`;
  await visitor.goto(at("/l/primer"));
  await visitor.getByLabel("First name").fill("Rosalind");
  await visitor.getByLabel("Email").fill(email);
  await visitor.getByRole("checkbox").check();
  await visitor.locator("form[action*=opt-in] button").click();
  await expect(visitor.getByRole("heading", { level: 1 })).toHaveText("Cast on once, and well.");
  await context.close();
  await open(page, `/desk/people?find=${encodeURIComponent(email)}`);
  await page.getByRole("link", { name: "Rosalind" }).click();
  await awake(page);
  await expect(async () => {
    await page.reload();
    await expect(page.getByRole("region", { name: "Tags" })).toContainText("by a rule", { timeout: 1_000 });
  }).toPass({ timeout: 90_000 });
  await awake(page);
  const who = page.getByRole("region", { name: "Who they are" });
  await expect(who.getByText("not named; Atlantic/Azores by their browser")).toBeVisible();
  await expect(who.getByLabel("Language").locator("option:checked")).toHaveText("not named; Portuguese by their browser");
  const other = await page.context().newPage();
  await open(other, page.url().replace(at(""), ""));
  await who.getByLabel("Size of hands").selectOption("large");
  await who.getByRole("button", { name: "Save the correction" }).click();
  await expect(page.getByText("Corrected.", { exact: true })).toBeVisible();
  const there = other.getByRole("region", { name: "Who they are" });
  await there.getByLabel("Last name").fill("Overwriting");
  await there.getByRole("button", { name: "Save the correction" }).click();
  await expect(other.getByText(/^This record has changed since you opened it/)).toBeVisible();
  await expect(there.getByLabel("Last name")).toHaveValue("Overwriting");
  // The emails of one launch alone are stopped, and go again.
  const launches = page.getByRole("region", { name: "Launches" });
  await launches.getByRole("button", { name: "Stop its emails" }).press("Enter");
  await expect(launches.getByText(/^Its emails were stopped from the desk/)).toBeVisible();
  await launches.getByRole("button", { name: "Let its emails go again" }).click();
  await expect(launches.getByText(/were stopped/)).toBeHidden();
  await open(page, "/desk/people/rules");
  const rule = page.getByRole("listitem").filter({ hasText: "by a rule" });
  await expect(rule).toContainText("1 person so far");
  await rule.getByRole("button", { name: "End this rule" }).press("Enter");
  await expect(rule).toHaveCount(0);
  await expect(page.locator("body")).not.toBeFocused();
  await fields.getByRole("button", { name: "Remove the field Size of hands" }).click();
  await expect(fields.getByText("Size of hands")).toBeHidden();
});
