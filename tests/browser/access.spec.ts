import { readdirSync } from "node:fs";
import { join } from "node:path";
import { expect, test, type APIRequestContext } from "@playwright/test";
import { root } from "../../scripts/lib/run.mjs";
import { at, expectAccessible, signIn, stack } from "./desk";

/** Every address of a folder of routes, with its parameters filled in. */
const routes = (folder: string): string[] =>
  readdirSync(join(root, "src/pages", folder), { recursive: true, encoding: "utf8" })
    .filter((file) => /\.(ts|astro)$/.test(file))
    .map((file) => `/${folder}/${file}`.replace(/\.(ts|astro)$/, "").replace(/\/index$/, ""))
    .map((path) =>
      path
        .replace("[slug]", "gansey")
        .replace("[id]", "3b241101-e2bb-4255-8caf-4136c566a962")
        .replace("[...key]", "sales")
        .replace("[key]", "looked")
        .replace("[step]", "submit"),
    );

const post = (request: APIRequestContext, path: string, origin = stack().origin) =>
  request.post(at(path), { data: "{}", headers: { origin, "content-type": "application/json" }, maxRedirects: 0 });

test("no endpoint of the desk answers who is not signed in", async ({ request }) => {
  const endpoints = routes("api/desk");
  expect(endpoints.length).toBeGreaterThan(5);
  for (const path of endpoints) {
    const response = await post(request, path);
    expect(response.status(), path).toBe(401);
    expect(await response.json()).toMatchObject({ code: "signed_out" });
  }
});

test("no screen of the desk, the portal or the library opens for who is not signed in", async ({ request }) => {
  for (const path of [...routes("desk"), ...routes("partner"), ...routes("library")].filter(
    (path) => !/(sign-(in|out)|partner\/welcome|library\/open)$/.test(path),
  )) {
    const response = await request.get(at(path), { maxRedirects: 0 });
    expect(response.status(), path).toBe(303);
    expect(response.headers()["location"]).toContain("/sign-in");
  }
});

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

test("who may only look changes nothing", async ({ page }) => {
  await signIn(page, "viewer");
  const launch = {
    name: "X",
    zone: "Europe/Lisbon",
    opensWall: "2027-01-01T10:00",
    closesWall: "2027-01-02T10:00",
    productName: "X",
    price: "1",
    currency: "EUR",
    taxMode: "inclusive",
  };
  const nobody = "00000000-0000-4000-8000-000000000000";
  const tries: [string, unknown][] = [
    ["/api/desk/launches", launch],
    ["/api/desk/gansey/delay", { minutes: 5 }],
    ["/api/desk/gansey/clock/undo", {}],
    ["/api/desk/gansey/clock/secret", { renew: true }],
    ["/api/desk/gansey/copy", { name: "X", as: "always_on" }],
    ["/api/desk/gansey/page", { address: "x", headline: "X" }],
    ["/api/desk/gansey/look", { theme: "letter", accent: "#000000", second: "#000000", type: "book", logo: null }],
    ["/api/desk/templates", { page: nobody, name: "X", purpose: "sales" }],
    [`/api/desk/templates/${nobody}`, { drop: true }],
    [`/api/desk/media/${nobody}`, { alt: "x" }],
    ["/api/desk/media", {}],
    ...[
      ["draft", { content: {}, version: 1 }],
      ["publish", {}],
      ["restore", { version: 1, from: 1 }],
      ["meet", {}],
      ["copy", { launch: "gansey", address: "x" }],
      ["share", {}],
      ["address", { address: "x" }],
      ["variants/add", {}],
      ["variants/weights", { weights: {} }],
      ["variants/winner", {}],
      ["variants/drop", {}],
    ].map(([what, body]): [string, unknown] => [`/api/desk/pages/${nobody}/${what as string}`, body]),
    ["/api/desk/gansey/market/refund_window", { days: 5 }],
    ["/api/desk/gansey/market/terms", {}],
    ["/api/desk/gansey/market/submit", {}],
  ];
  for (const [path, data] of tries) {
    const response = await page.request.post(at(path), { data, headers: { origin: stack().origin } });
    expect(response.status(), path).toBe(403);
  }
  expect((await page.request.get(at("/desk/gansey/audience-looked.csv"))).status()).toBe(403);
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
  for (const path of ["/api/notices/card-desk", "/api/notices/market", "/api/notices/clock/primer"]) {
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
  for (let i = 0; i < 11; i += 1) statuses.push((await guess()).status());
  expect(statuses.slice(0, 10)).toEqual(Array(10).fill(422));
  expect(statuses[10]).toBe(429);
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
