import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { expect, test, type Page } from "@playwright/test";
import { wallTimeOf } from "../../src/core/launch";
import { advance, appNow, at, emails, expectAccessible, linkIn, momentIn, open, signIn, tokenIn, typeMoment } from "./desk";

const zone = "Europe/Lisbon";
const slug = "tide-tables";
const hours = (from: Date, n: number) => wallTimeOf(new Date(from.getTime() + n * 3_600_000), zone);

const publish = async (desk: Page, launch: string, keys: string[]) => {
  for (const key of keys) {
    await open(desk, `/desk/${launch}/pages/${key}`);
    await desk.getByRole("button", { name: "Publish this page" }).click();
    await desk.getByRole("button", { name: "Publish 1 page" }).click();
    await expect(desk.getByText("published as it stands")).toBeVisible();
  }
};
const optIn = async (page: Page, email: string) => {
  await page.getByLabel("First name").fill("Runa");
  await page.getByLabel("Email").fill(email);
  await page.getByRole("checkbox").check();
  await page.getByRole("button", { name: /./ }).last().click();
};
/** The instant a page counts down to, and its headline. */
const shown = async (page: Page) => ({
  until: Number(await page.locator("[data-until]").first().getAttribute("data-until")),
  headline: await page.getByRole("heading", { level: 1 }).textContent(),
});

test.describe.serial("a deadline of one's own", () => {
  const email = `runa.${Date.now()}@tide.example`;
  let until: number;

  test("starts with the opt-in, and is the same in a second browser that comes by the email", async ({ page, browser }) => {
    await page.goto(at("/l/primer"));
    await expect(page.getByRole("heading", { level: 1 })).toContainText("Eleven ways to cast on");
    await expect(page.locator("[data-until]")).toHaveCount(0);
    await optIn(page, email);
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Cast on once, and well.");
    ({ until } = await shown(page));
    const left = (until - (await appNow()).getTime()) / 86_400_000;
    expect(left).toBeGreaterThan(3);
    expect(left).toBeLessThanOrEqual(4);
    // At 20:00 in Lisbon, as the launch says.
    expect(wallTimeOf(new Date(until), zone).slice(11)).toBe("20:00");
    await page.goto(at("/l/primer/checkout"));
    expect((await shown(page)).until).toBe(until);

    const cleared = await (await browser.newContext()).newPage();
    await cleared.goto(at("/l/primer"));
    await expect(cleared.getByRole("heading", { level: 1 })).toContainText("Eleven ways");
    await optIn(cleared, email);
    await expect(cleared.getByRole("timer")).toBeVisible();
    expect((await shown(cleared)).until).toBe(until);

    await expect.poll(async () => (await emails(email)).length, { timeout: 90_000 }).toBeGreaterThan(0);
    const [received] = await emails(email);
    const link = linkIn(received!.text);
    const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
    await phone.goto(link);
    await expect(phone).toHaveURL(at("/l/primer"));
    expect((await shown(phone)).until).toBe(until);
    // Who holds the link is shown its owner's clock, and none of the owner's words.
    await phone.goto(at("/l/primer/checkout"));
    await expect(phone.getByLabel("Email")).toHaveValue("");

    const picture = /src=3D"(http[^"]+\/c\/primer\.png[^"]+)"/.exec(received!.raw.replace(/=\r?\n/g, ""))![1]!.replaceAll("=3D", "=");
    const answer = await fetch(picture);
    expect(Date.parse(answer.headers.get("x-countdown-until")!)).toBe(until);
    expect(answer.headers.get("content-type")).toBe("image/png");
    expect(answer.headers.get("cache-control")).toMatch(/^private, max-age=\d+/);
  });

  test("is the same on a page of another site, through the pasted script", async ({ page }) => {
    const [received] = await emails(email);
    const token = await tokenIn(received!.text);
    const body = `<!doctype html><title>Elsewhere</title><h1>Another site</h1><script src="${at("/_ib/countdown.js")}" data-launch="primer" async></script>`;
    const elsewhere = createServer((_, response) => response.writeHead(200, { "content-type": "text/html" }).end(body));
    await new Promise<void>((done) => elsewhere.listen(0, "127.0.0.1", done));
    const address = `http://127.0.0.1:${(elsewhere.address() as AddressInfo).port}/`;
    try {
      await page.goto(address);
      await page.waitForTimeout(500);
      await expect(page.locator("[data-ink-bell]")).toHaveCount(0);
      await page.goto(`${address}?k=${token}`);
      await expect(page.locator("[data-ink-bell]")).toHaveAttribute("data-until", String(until));
      const figure = page.locator("[data-ink-bell] b");
      const before = await figure.textContent();
      await expect(figure).not.toHaveText(before!);
    } finally {
      elsewhere.close();
    }
  });

  test("looks more urgent near its end, moves on by itself at zero, and stays over", async ({ page, browser }) => {
    await page.goto(at(`/l/primer?k=${await tokenIn((await emails(email))[0]!.text)}`));
    const countdown = page.locator("[data-until]");
    await advance((until - (await appNow()).getTime()) / 1000 - 3_603);
    await page.reload();
    await expect(countdown).toHaveClass(/firm/);
    await expect(page.getByText("Last day")).toBeVisible();
    await expectAccessible(page);
    // The last hour begins while somebody looks.
    await expect(countdown).toHaveClass(/loud/, { timeout: 90_000 });
    await expect(page.getByText("Last hour")).toBeVisible();
    await expectAccessible(page);
    await advance((until - (await appNow()).getTime()) / 1000 - 4);
    await page.reload();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Cast on once, and well.");
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Your three days are over.", { timeout: 90_000 });
    const again = await (await browser.newContext()).newPage();
    await again.goto(at("/l/primer"));
    await optIn(again, email);
    await expect(again.getByRole("heading", { level: 1 })).toHaveText("Your three days are over.");
    await again.goto(at("/l/primer/checkout"));
    await expect(again.getByRole("heading", { level: 1 })).toHaveText("Your three days are over.");
  });
});

test.describe.serial("a launch steered by its score", () => {
  let desk: Page;
  test.beforeAll(async ({ browser }) => {
    desk = await (await browser.newContext()).newPage();
    await signIn(desk, "owner");
  });

  test("is laid out from a few questions", async () => {
    const now = await appNow();
    await open(desk, "/desk/new");
    await desk.getByLabel("Name", { exact: true }).fill("Tide Tables");
    await desk.getByRole("radio", { name: /Sell at once/ }).check();
    await typeMoment(desk, "Doors open", hours(now, 5));
    await typeMoment(desk, "Doors close", hours(now, 53));
    await desk.getByLabel("Main product").fill("The tide tables");
    await desk.getByLabel("Price").fill("20.00");
    await expect(desk.getByRole("img", { name: /The launch on a time axis/ })).toBeVisible();
    await desk.getByRole("button", { name: "Start with 6 pages and 3 emails" }).click();
    await expect(desk).toHaveURL(at(`/desk/${slug}/score`));
    await desk.getByText(/\d+ bells in this span/).click();
    for (const label of ["Doors open", "Countdown says “Last day”", "Email “Tide Tables: the last hour”", "Doors close"])
      await expect(desk.getByRole("button", { name: label, exact: true })).toBeVisible();
    await expectAccessible(desk);
    await publish(desk, slug, ["sales", "optin", "checkout", "thanks", "closed"]);
  });

  test("shows before a bell is moved what that changes, in numbers, and takes it back", async () => {
    const visitor = await (await desk.context().browser()!.newContext()).newPage();
    await visitor.goto(at(`/l/${slug}`));
    const { until } = await shown(visitor);
    await expect
      .poll(async () => {
        await open(desk, `/desk/${slug}/score`);
        return desk.getByText(/^1 person/).count();
      })
      .toBe(1);
    const bell = desk.locator("[data-bell=closing] rect").first();
    const box = (await bell.boundingBox())!;
    await desk.mouse.move(box.x + 13, box.y + 16);
    await desk.mouse.down();
    await desk.mouse.move(box.x - 60, box.y + 16, { steps: 6 });
    await desk.mouse.up();
    const change = desk.getByRole("region", { name: "What this changes" });
    await expect(change.getByText(/1 person: the countdown moves .* earlier/)).toBeVisible();
    await expect(change.getByText("lose time that they were promised")).toBeVisible();
    await expect(change.getByText(/Email “Tide Tables closes in a day”/)).toBeVisible();
    await expectAccessible(desk);
    await expect(change).toBeFocused();
    await change.getByRole("button", { name: "Cancel" }).click();
    await expect(desk.locator("main")).toBeFocused();

    await desk.locator("[data-bell=opening]").first().click();
    const pane = desk.getByRole("region", { name: "Chosen bell" });
    const opens = await momentIn(pane, "Ring it at");
    await typeMoment(pane, "Ring it at", "");
    await pane.getByRole("button", { name: "See what that changes" }).click();
    await expect(pane.getByText("Give a date and a time")).toBeVisible();
    const later = wallTimeOf(new Date(until + 3_600_000), zone);
    await typeMoment(pane, "Ring it at", later);
    await pane.getByRole("button", { name: "See what that changes" }).click();
    await change.getByRole("button", { name: "Change it all the same" }).click();
    await expect(desk.getByText(/^Changed\. Doors open/)).toBeVisible();
    await visitor.reload();
    expect((await shown(visitor)).until).toBe(until + 3_600_000);
    await desk.getByRole("button", { name: "Undo the change" }).click();
    await expect(desk.getByText(/^Undone: Doors open/)).toBeVisible();
    await visitor.reload();
    expect((await shown(visitor)).until).toBe(until);
    expect(wallTimeOf(new Date(until), zone)).toBe(opens);
  });

  test("can be looked at as anyone at any moment, on every screen, and in a preview that stays inside", async () => {
    await open(desk, `/desk/${slug}/pages`);
    await desk.getByRole("button", { name: /As seen/ }).click();
    const panel = desk.getByRole("region", { name: "As seen", exact: true });
    const moment = hours(await appNow(), 20);
    await typeMoment(panel, "Moment", moment);
    await panel.getByLabel("Seen by").selectOption({ label: "someone at the checkout" });
    await expectAccessible(desk);
    const [preview] = await Promise.all([desk.context().waitForEvent("page"), panel.getByRole("button", { name: `/${slug}`, exact: true }).click()]);
    await expect(preview.getByRole("heading", { level: 1 })).toHaveText("The tide tables is open.");
    expect(preview.url()).toContain(`/desk/${slug}/seen?`);
    const outsider = await fetch(preview.url(), { redirect: "manual" });
    expect([302, 303]).toContain(outsider.status);
    await preview.close();
    await panel.getByRole("button", { name: "Apply" }).click();
    await expect(desk.getByRole("banner")).toContainText("by someone at the checkout");
    for (const room of ["Leaks", "Partners", "Retarget", "Money", "Launches"]) {
      await desk
        .getByRole("navigation", { name: "Rooms" })
        .getByRole("link", { name: new RegExp(`^${room}`) })
        .click();
      await expect(desk).toHaveURL(/at=.*as=begun/);
      await expect(desk.getByRole("banner")).toContainText("by someone at the checkout");
    }
    // Figures are those of that moment too: long before anybody came there were none.
    await open(desk, "/desk?at=2020-01-01T00:00:00.000Z");
    await expect(desk.getByText("0 people").first()).toBeVisible();
    await desk.getByRole("button", { name: /As seen/ }).click();
    await desk.getByRole("button", { name: "Back to now, everyone" }).click();
    await expect(desk).toHaveURL(at("/desk"));
  });

  test("answers at 50 instants what the public addresses then really answer", async () => {
    const start = (await appNow()).getTime();
    // From now to past the end, with the last seconds before and the first after the bells among them.
    const edges = [5, 29, 52, 53].flatMap((h) => [-2, 2].map((s) => Date.parse(`${hours(new Date(start), h)}Z`) + s * 1000));
    const spread = Array.from({ length: 42 }, (_, n) => start + 120_000 + n * 78 * 60_000);
    const instants = [...spread, ...edges.filter((ms) => ms > start + 60_000)].sort((a, b) => a - b).slice(0, 50);
    expect(instants).toHaveLength(50);
    const said: { at: number; rows: { path: string; answer: string; until: string | null }[] }[] = [];
    // The words are compared, not the small pictures: fifty times nine of them would only take time.
    await desk.route("**/seen?*", (route) => route.abort());
    for (const ms of instants) {
      await open(desk, `/desk/${slug}/score?at=${new Date(ms).toISOString()}`);
      const rows = await desk.locator("li[data-address]").evaluateAll((items) =>
        items.map((item) => ({
          path: (item as HTMLElement).dataset["address"]!,
          answer: (item as HTMLElement).dataset["answer"]!,
          until: item.querySelector("[data-countdown]")?.getAttribute("data-countdown") ?? null,
        })),
      );
      said.push({ at: ms, rows });
    }
    await desk.unroute("**/seen?*");
    const headlines: Record<string, string> = {
      sales: "The tide tables is open.",
      optin: "The tide tables opens soon.",
      checkout: "Your order",
      closed: "The doors are closed.",
    };
    for (const { at: ms, rows } of said) {
      await advance((ms - (await appNow()).getTime()) / 1000);
      for (const { path, answer, until } of rows) {
        const response = await fetch(at(`/l/${slug}${path ? `/${path}` : ""}`), { redirect: "manual" });
        const body = await response.text();
        const really = {
          answer: response.status === 303 ? "redirect" : /<h1>(.*?)<\/h1>/.exec(body)?.[1],
          until: /data-until="(\d+)"/.exec(body)?.[1] ?? null,
        };
        expect(really, `${path || "/"} at ${new Date(ms).toISOString()}`).toEqual({ answer: headlines[answer] ?? answer, until });
      }
    }
  });
});

test.describe.serial("the clock's own screen", () => {
  test("sets a rule in plain words, says what objects at the field, and shows what a change does before it is made", async ({ page }) => {
    await signIn(page, "owner");
    await open(page, "/desk/mittens/clock");
    await expectAccessible(page);
    await page.getByLabel("Timing").selectOption("recurring");
    await typeMoment(page, "Doors open first", "2027-02-01T10:00");
    await page.getByLabel("Unit", { exact: true }).selectOption("month_weekday");
    await expect(page.getByLabel("Recurrence rule, RFC 5545")).toHaveValue("FREQ=MONTHLY;BYDAY=1MO");
    await expect(page.locator("[data-openings]")).toContainText("Mon 1 Feb, 10:00 · Mon 1 Mar, 10:00 · Mon 5 Apr, 10:00");
    await page.getByLabel("Recurrence rule, RFC 5545").fill("FREQ=HOURLY");
    await expect(page.getByText("Doors open once a day at most")).toHaveCount(2);
    await expect(page.getByRole("button", { name: "See what that changes" })).toBeDisabled();
    await page.getByLabel("Recurrence rule, RFC 5545").fill("FREQ=WEEKLY;BYDAY=MO");
    await page.getByRole("button", { name: "Add an urgent look" }).click();
    await page.getByRole("button", { name: "See what that changes" }).click();
    const change = page.getByRole("region", { name: "What this changes" });
    await expect(change.getByText("Nobody’s countdown moves.")).toBeVisible();
    await change.getByRole("button", { name: "Change it" }).click();
    await expect(page.getByText("Changed. Every page, email and picture shows it from now on.")).toBeVisible();
    await open(page, "/desk/mittens/score");
    await expect(page.getByRole("slider", { name: "Playhead" })).toHaveAttribute("aria-valuetext", /Doors closed until they open again/);
    await open(page, "/desk/mittens/clock");
    await page.getByRole("button", { name: "Undo the newest change" }).click();
    await expect(page.getByLabel("Timing")).toHaveValue("fixed");
    const file = await page.request.get(at("/desk/mittens/bells.ics"));
    expect(await file.text()).toContain("SUMMARY:Doors open: Mittens in a Weekend");
    const feed = await page.locator("code", { hasText: "/calendar/" }).textContent();
    expect((await fetch(feed!)).headers.get("content-type")).toContain("text/calendar");
    expect((await fetch(`${feed!.slice(0, -8)}xxxx.ics`)).status).toBe(404);
  });

  test("copies a launch as an always-on one, and names what it leaves out", async ({ page }) => {
    await signIn(page, "owner");
    await open(page, "/desk/mittens/clock#copy");
    await page.getByLabel("Name of the copy").fill("Mittens, always");
    await page.getByLabel("Copy it as").selectOption("always_on");
    await page.getByRole("button", { name: "Copy the launch" }).click();
    await expect(page.getByText("The run-up was left out")).toBeVisible();
    await page.getByRole("link", { name: "The copy is laid out at /mittens-always." }).click();
    await expect(page.getByRole("button", { name: "Clock runs" })).toHaveAttribute("aria-pressed", "true");
    await expectAccessible(page);
  });

  test("offers a gap beside nothing to who may only look", async ({ page }) => {
    await signIn(page, "viewer");
    await open(page, "/desk/gansey/clock");
    await page.getByLabel("Grace time for checkouts", { exact: true }).fill("30");
    await expect(page.getByRole("button", { name: "See what that changes" })).toBeDisabled();
    await expect(page.getByText("changing needs an owner or editor")).toBeVisible();
    await page.setViewportSize({ width: 390, height: 844 });
    await expectAccessible(page);
  });
});
