import { expect, test, type Page } from "@playwright/test";
import { at, expectAccessible, open, signIn } from "./desk";

/** A screen, and what is opened on it: each pane and dialog is looked at, too. */
interface Screen {
  path: string;
  open?: (page: Page) => Promise<void>;
}
const press = (name: string | RegExp) => async (page: Page) => {
  await page.getByRole("button", { name }).first().click();
};
const unfold = (words: string | RegExp) => async (page: Page) => {
  await page.locator("summary", { hasText: words }).first().click();
};

const desk: Screen[] = [
  { path: "/desk" },
  { path: "/desk/new" },
  { path: "/desk/settings" },
  { path: "/desk/products" },
  { path: "/desk/products", open: unfold("Copy at another price") },
  { path: "/desk/products", open: press(/^(Choose|Replace)$/) },
  { path: "/desk/coupons" },
  { path: "/desk/tax" },
  { path: "/desk/orders" },
  { path: "/desk/orders/enter" },
  { path: "/desk/money" },
  { path: "/desk/waiting" },
  { path: "/desk/people" },
  { path: "/desk/people", open: async (page) => page.getByRole("table").getByRole("link").first().click() },
  { path: "/desk/people?who=all+of+%28opted+in%3B+none+of+%28paid%29%29", open: unfold("As text") },
  { path: "/desk/people/import" },
  { path: "/desk/gansey/emails", open: async (page) => page.getByRole("table").first().getByRole("button").nth(2).click() },
  { path: "/desk/primer/emails" },
  { path: "/desk/primer/emails?email=first-stitches" },
  { path: "/desk/gansey/emails/last-day" },
  { path: "/desk/gansey/emails/last-day", open: unfold("Put in a field") },
  { path: "/desk/people/rules" },
  { path: "/desk/gansey/score" },
  { path: "/desk/gansey/score", open: unfold("Arrivals and orders by the hour") },
  { path: "/desk/gansey/clock" },
  { path: "/desk/gansey/pages" },
  { path: "/desk/gansey/pages/sales" },
  { path: "/desk/gansey/offers" },
  { path: "/desk/gansey/offers", open: unfold("Order values") },
  { path: "/desk/gansey/partners" },
  { path: "/desk/gansey/markets" },
  { path: "/desk/gansey/leaks" },
  { path: "/desk/gansey/leaks", open: unfold("People by stage") },
  { path: "/desk/gansey/retarget" },
  { path: "/desk/webhooks?endpoint=5eedb0a7-0c1d-4f6e-9a1e-1f5a6c0de001" },
  { path: "/desk/gansey/people" },
  { path: "/desk/gansey/comments" },
  { path: "/desk/no/such/screen" },
];
const site: Screen[] = [
  { path: "/" },
  { path: "/l/gansey" },
  { path: "/l/gansey/checkout" },
  { path: "/l/gansey/join" },
  { path: "/l/yoke" },
  { path: "/l/primer" },
  { path: "/desk/sign-in" },
  { path: "/partner/sign-in" },
  { path: "/library/sign-in" },
];

const sideways = async (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const room = document.documentElement.clientWidth;
    if (document.documentElement.scrollWidth <= room) return [];
    const wide = [...document.querySelectorAll("body *")].filter((one) => one.getBoundingClientRect().right > room + 1);
    return wide.slice(0, 5).map((one) => `${one.tagName.toLowerCase()}.${one.className.toString()}`);
  });

const lookAt = async (page: Page, { path, open: act }: Screen, size: { width: number; height: number }, check: boolean) => {
  await page.setViewportSize(size);
  if (path.startsWith("/desk/") && !path.endsWith("sign-in")) await open(page, path);
  else await page.goto(at(path));
  await act?.(page);
  expect.soft(await sideways(page), `${path} at ${size.width} does not scroll sideways`).toEqual([]);
  if (check) await test.step(`${path} at ${size.width}`, () => expectAccessible(page));
};

const sizes = [
  { width: 390, height: 844 },
  { width: 768, height: 1024 },
  { width: 1280, height: 800 },
  { width: 1920, height: 1080 },
];

for (const size of sizes) {
  const check = size.width === 390 || size.width === 1280;
  test(`every screen of the desk fits ${size.width} pixels${check ? ", and axe finds nothing" : ""}`, async ({ page }) => {
    test.setTimeout(1_800_000);
    await signIn(page, "owner");
    for (const screen of desk) await lookAt(page, screen, size, check);
  });
  test(`every public page and door fits ${size.width} pixels${check ? ", and axe finds nothing" : ""}`, async ({ page }) => {
    for (const screen of site) await lookAt(page, screen, size, check);
  });
}

// Says soon what is not there.
test.use({ actionTimeout: 30_000 });

test("in the reader's own colours every mark and word is still there", async ({ page }) => {
  await page.emulateMedia({ forcedColors: "active" });
  await signIn(page, "owner");
  for (const path of ["/desk", "/desk/gansey/score", "/desk/gansey/offers", "/desk/gansey/leaks", "/desk/orders"])
    await lookAt(page, { path }, { width: 1280, height: 800 }, true);
});

test("a bell and a step of the offer path are reached by the keyboard in under ten stops", async ({ page }) => {
  await signIn(page, "owner");
  /** How often Tab is pressed from the head of the page, by way of the link to the work, until an element has the focus. */
  const stopsTo = async (path: string, name: RegExp): Promise<number> => {
    await open(page, path);
    await page.keyboard.press("Tab");
    await page.keyboard.press("Enter");
    await expect(page.locator("main")).toBeFocused();
    for (let stops = 1; stops < 30; stops += 1) {
      await page.keyboard.press("Tab");
      const focused = await page.evaluate(() => document.activeElement?.getAttribute("aria-label") ?? document.activeElement?.textContent ?? "");
      if (name.test(focused)) return stops + 1;
    }
    return 30;
  };
  expect(await stopsTo("/desk/gansey/offers", /^Stitch Library, 240 charts/)).toBeLessThan(10);
  expect(await stopsTo("/desk/gansey/score", /^Playhead$/)).toBeLessThan(10);
  await page.keyboard.press("Alt+ArrowRight");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "Chosen bell" })).toBeFocused();
  await page.keyboard.press("Tab");
  await expect(page.getByRole("region", { name: "Chosen bell" }).locator(":focus")).toBeVisible();
  await page.getByRole("region", { name: "Chosen bell" }).getByRole("button", { name: "Close" }).click();
  await expect(page.getByRole("slider", { name: "Playhead" })).toBeFocused();
});
