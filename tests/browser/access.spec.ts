import { expect, test, type APIRequestContext } from "@playwright/test";
import { at, expectAccessible, signIn, stack } from "./desk";

const post = (request: APIRequestContext, path: string, origin = stack().origin) =>
  request.post(at(path), { data: "{}", headers: { origin, "content-type": "application/json" }, maxRedirects: 0 });

test("a partner is not let into the desk, and a desk's session does not open the portal", async ({ page, browser }) => {
  await signIn(page, "partner");
  await page.goto(at("/desk"));
  await expect(page).toHaveURL(/\/desk\/sign-in/);
  expect((await post(page.request, "/api/desk/launches")).status()).toBe(401);
  const other = await (await browser.newContext()).newPage();
  await signIn(other, "owner");
  await other.goto(at("/partner"));
  await expect(other).toHaveURL(/\/partner\/sign-in/);
  await other.goto(at("/library"));
  await expect(other).toHaveURL(/\/library\/sign-in/);
});

test("what fails at the desk stands in its frame, with words and ways back", async ({ page }) => {
  await signIn(page, "viewer");
  for (const [path, status, headline] of [
    ["/desk/no/such/screen", 404, "There is nothing at this address."],
    ["/desk/no-such-launch/score", 404, "There is nothing at this address."],
    ["/desk/orders/3b241101-e2bb-4255-8caf-4136c566a962", 404, "There is nothing at this address."],
    ["/desk/new", 403, "This is not open to you."],
  ] as const) {
    expect((await page.goto(at(path)))!.status(), path).toBe(status);
    await expect(page.getByRole("heading", { level: 1, name: headline })).toBeVisible();
    await expect(page.getByRole("navigation", { name: "Rooms" }).getByRole("link", { name: "Launches" })).toBeVisible();
    await expectAccessible(page);
  }
  await expect(page.getByText("Signed in as viewer: this needs owner or editor.")).toBeVisible();
  await page.getByRole("link", { name: "Go to your launches" }).click();
  await expect(page).toHaveURL(at("/desk"));
});

test("a request from another site, or from no site, is refused: forms and JSON alike", async ({ page }) => {
  await signIn(page, "owner");
  for (const origin of ["https://elsewhere.example", "null"]) {
    expect((await post(page.request, "/api/desk/launches", origin)).status()).toBe(403);
    expect((await post(page.request, "/l/gansey/do/start", origin)).status()).toBe(403);
  }
  const bare = await fetch(at("/api/desk/launches"), { method: "POST", body: "{}" });
  expect(bare.status).toBe(403);
});

test("a notice without a right signature is refused", async () => {
  for (const path of ["/api/notices/card-desk", "/api/notices/market", "/api/notices/launch/primer"]) {
    expect((await fetch(at(path), { method: "POST", body: "{}" })).status).toBe(401);
  }
});

test("signing in does not lead to another site, and tries are limited", async ({ page, request }) => {
  await page.goto(at("/desk/sign-in?to=//elsewhere.example/desk"));
  await page.getByLabel("Email").fill("viewer@marram.example");
  await page.getByLabel("Password").fill("herringbone-viewer");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page).toHaveURL(at("/desk"));
  await page.getByRole("button", { name: "Sign out" }).click();
  await page.goto(at("/desk/money"));
  await expect(page).toHaveURL(/sign-in/);
  const guess = () =>
    request.post(at("/desk/sign-in"), { form: { email: "nobody@marram.example", password: "guess" }, headers: { origin: stack().origin } });
  const statuses: number[] = [];
  for (let i = 0; i < 6; i += 1) statuses.push((await guess()).status());
  expect(statuses).toEqual([422, 422, 422, 422, 422, 429]);
  const refused = await guess();
  expect(Number(refused.headers()["retry-after"] ?? 0)).toBeLessThanOrEqual(4);
  expect(await refused.text()).toMatch(/Too many wrong passwords. Try again in \d+ seconds. Whoever is signed in stays so./);
});

test("files outside the built ones are not served", async () => {
  for (const path of ["/../package.json", "/%2e%2e/package.json", "/..%2fserver/entry.mjs", "/_ib/../../server/entry.mjs"]) {
    const response = await fetch(at(path));
    expect(await response.text()).not.toContain("ink-bell");
  }
});

test("the porch, the doors to sign in, and the partners' room are accessible", async ({ page }) => {
  for (const path of ["/", "/desk/sign-in", "/partner/sign-in"]) {
    await page.goto(at(path));
    await expectAccessible(page);
  }
  await page.goto(at("/"));
  await expect(page.getByText("herringbone-owner")).toBeVisible();
  await signIn(page, "owner");
  await page.goto(at("/desk/gansey/partners"));
  await expect(page.getByRole("row", { name: /Skerry Yarns/ })).toContainText("40 %");
  await expectAccessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(at("/desk/gansey/score"));
  await expectAccessible(page);
});
