import { AxeBuilder } from "@axe-core/playwright";
import { expect, type Locator, type Page } from "@playwright/test";
import { chargesMade, type BookedCharge } from "../support/cardDeskBooks";

interface Stack extends Record<string, string> {
  origin: string;
  CARD_DESK_URL: string;
  CARD_DESK_KEY: string;
  MARKET_URL: string;
  MAIL_INBOX_URL: string;
  HOOKS_URL: string;
}

/** Addresses of the stack under test. */
export const stack = (): Stack => JSON.parse(process.env["STACK"]!) as Stack;
export const at = (path: string): string => `${stack().origin}${path}`;

export const signIn = async (page: Page, who: "owner" | "viewer" | "partner"): Promise<void> => {
  const logins = {
    owner: ["/desk", "owner@marram.example", "herringbone-owner"],
    viewer: ["/desk", "viewer@marram.example", "herringbone-viewer"],
    partner: ["/partner", "isla@skerry.example", "skerry-partner"],
  } as const;
  const [home, email, password] = logins[who];
  await page.goto(at(home));
  await page.getByLabel("Email").fill(email);
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page).toHaveURL(at(home));
};

/** The app's time, as it tells it itself. */
export const appNow = async (): Promise<Date> => new Date(((await (await fetch(at("/healthz"))).json()) as { now: string }).now);

export const advance = async (seconds: number): Promise<void> => {
  const headers = { origin: stack().origin, "content-type": "application/json" };
  const response = await fetch(at("/api/test/clock"), { method: "POST", headers, body: JSON.stringify({ advanceSeconds: seconds }) });
  expect(response.status).toBe(200);
};

export const cards = { good: "9990 0000 0000 0003", poor: "9990 0000 0000 0011", asks: "9990 0000 0000 0037", slow: "9990 0000 0000 0045" };

/** Ticks what a buyer of digital content in the European Union must agree to, where it is asked for. */
export const agree = async (page: Page): Promise<void> => {
  const box = page.getByLabel(/request immediate access/);
  if (await box.isVisible()) await box.check();
};

/** The button that pays with the card that was typed. */
export const payButton = (page: Page): Locator => page.locator("form[data-card-form] button:not([data-stored], [form])");

/** Types a card into the card desk's own frame, agrees to what is asked, and presses the page's button. */
export const payWith = async (page: Page, number: string): Promise<void> => {
  const field = page.frameLocator("iframe[name=card]");
  await field.getByLabel("Card number").fill(number);
  await field.getByLabel("Expiry, MM/YY").fill("12/39");
  await field.getByLabel("Security code").fill("123");
  await agree(page);
  await payButton(page).click();
};

/** The field of the kit for a date, a time of day or both, by its label. */
const momentField = (within: Page | Locator, label: string): Locator => within.getByRole("group", { name: label, exact: true });

/** Types a moment part by part: `2027-03-28T02:30`, a day or a time of day of it. Empty: takes out what stands there. */
export const typeMoment = async (within: Page | Locator, label: string, wall: string): Promise<void> => {
  const field = momentField(within, label);
  const [date, time = ""] = wall.includes(":") && !wall.includes("T") ? ["", wall] : wall.split("T");
  const [year, month, day] = date!.split("-");
  const [hour, minute] = time.split(":");
  for (const [part, digits] of Object.entries({ year, month, day, hour, minute })) {
    const segment = field.locator(`[data-type=${part}]`);
    if (wall === "") {
      if ((await segment.count()) === 0) continue;
      await segment.focus();
      // One press takes a digit; of an empty part it would go on to the one before.
      for (let n = 0; n < 4 && (await segment.getAttribute("aria-valuenow")) !== null; n += 1) await segment.press("Backspace");
    } else if (digits) await segment.pressSequentially(digits);
  }
};

/** Types a time zone, and leaves the field: while its list is open, nothing else on the screen is there for a screen reader. */
export const typeZone = async (page: Page, zone: string): Promise<void> => {
  await page.getByRole("combobox", { name: "Time zone" }).fill(zone);
  await page.keyboard.press("Tab");
};

/** The moment that stands in a field: `2027-03-28T02:30`. */
export const momentIn = async (within: Page | Locator, label: string): Promise<string> => {
  const part = async (name: string, digits: number) =>
    String(await momentField(within, label).locator(`[data-type=${name}]`).getAttribute("aria-valuenow")).padStart(digits, "0");
  return `${await part("year", 4)}-${await part("month", 2)}-${await part("day", 2)}T${await part("hour", 2)}:${await part("minute", 2)}`;
};

/** Begins a checkout as somebody. */
export const beginCheckout = async (page: Page, launch: string, email: string, country = "Portugal"): Promise<void> => {
  await page.goto(at(`/l/${launch}/checkout`));
  await page.getByLabel("Email").fill(email);
  await page.getByLabel("First name").fill("Runa");
  await page.getByLabel("Country").selectOption({ label: country });
  await page.getByRole("button", { name: "Go on to the payment" }).click();
  // What is to be paid is said on both steps; the card is asked for on the second.
  await expect(page.locator("form[data-card-form]")).toBeVisible();
};

/** Emails in the mail stand-in's inbox to an address. */
export const emails = async (to: string): Promise<{ subject: string; text: string; raw: string }[]> => {
  const response = await fetch(`${stack().MAIL_INBOX_URL}/api/emails?to=${encodeURIComponent(to)}`);
  return ((await response.json()) as { emails: { subject: string; text: string; raw: string }[] }).emails;
};

/** The first link of an email that leads to a page. */
export const linkIn = (text: string): string => /http\S+\/e\/[\w.-]+/.exec(text)![0];
/** The token by which that page knows its reader's clock. */
export const tokenIn = async (text: string): Promise<string> => {
  const { headers } = await fetch(linkIn(text), { redirect: "manual" });
  return new URL(headers.get("location")!).searchParams.get("k")!;
};

/**
 * How the card desk behaves from now on. Its notices are held back until it is well again: one that arrives before the page
 * has been seen would lead on from it at once.
 */
export const cardDesk = async (mood: "well" | "slow" | "down" | "deaf"): Promise<void> => {
  const body = new URLSearchParams({ mood, manner: mood === "well" ? "in order" : "held back" });
  await fetch(`${stack().CARD_DESK_URL}/behave`, { method: "POST", body, redirect: "manual" });
};

/** Charges that these tests made. */
export const deskCharges = (): Promise<BookedCharge[]> => chargesMade(stack());

/** Waits until a screen of the desk answers to keys and clicks. */
export const awake = async (page: Page): Promise<void> => {
  await expect(page.locator("astro-island[ssr]")).toHaveCount(0);
  // React takes over an island a moment after its script has run: what is typed before that moment is lost, and what says by `inert` that it is not ready
  // is passed over by Tab. One without controls of its own is not waited for long.
  const taken = () =>
    [...document.querySelectorAll("astro-island")].every((island) => {
      if (island.querySelector(":scope > [inert]")) return false;
      const control = island.querySelector("input, button, select");
      return !control || Object.keys(control).some((key) => key.startsWith("__react"));
    });
  await page.waitForFunction(taken, undefined, { timeout: 3_000 }).catch(() => undefined);
};

/** Opens a screen of the desk and waits until it answers to what is typed. */
export const open = async (page: Page, path: string): Promise<void> => {
  await page.goto(at(path));
  await awake(page);
};

/** Sets limits of sending under the settings, each by its label; empty is none. */
export const setSending = async (page: Page, limits: Record<string, string>): Promise<void> => {
  await open(page, "/desk/settings");
  for (const [label, value] of Object.entries(limits)) await page.getByLabel(label).fill(value);
  await page.getByLabel(Object.keys(limits).at(-1)!).blur();
  await expect(async () => {
    await open(page, "/desk/settings");
    for (const [label, value] of Object.entries(limits)) await expect(page.getByLabel(label)).toHaveValue(value, { timeout: 100 });
  }).toPass();
};

/** Has emails to many go at any hour, and as many to one person as are due. */
export const sendWithoutLimits = (page: Page): Promise<void> =>
  setSending(page, { "Most emails to one person in 24 hours": "", "Quiet from": "", "Quiet until": "" });

/** Fails where axe finds a breach of WCAG 2.2 A or AA. */
export const expectAccessible = async (page: Page): Promise<void> => {
  // Previews run no script, so nothing can be asked inside them; they are the public pages, which are checked themselves.
  await page.evaluate(() => document.querySelectorAll("iframe[sandbox]").forEach((frame) => frame.remove()));
  const axe = new AxeBuilder({ page })
    // Of WCAG 2.2, and left out unless it is asked for.
    .options({ rules: { "target-size": { enabled: true } } })
    .withTags(["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]);
  const { violations } = await axe.analyze();
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ target }) => target.join(" ")).join(", ")}`)).toEqual([]);
};
