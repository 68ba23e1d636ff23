import { createHash, randomUUID } from "node:crypto";
import { readdirSync } from "node:fs";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import pg from "pg";
import { root } from "../../scripts/lib/run.mjs";
import { permissions, roles, type Permission } from "../../src/core/access";
import { endpoints } from "../../src/contract";
import { contractRules, routes } from "../../src/server/platform/http/routes";
import { at, stack } from "./desk";
import { megabytes, raw } from "./http";
import { accessFaults } from "../support/accessWalk";

const nobody = "3b241101-e2bb-4255-8caf-4136c566a962";
/** An address of a route, with parameters that name nothing that is there. */
const addressOf = (pattern: string) =>
  pattern
    .replace("[...missing]", "no/such/screen")
    .replace("[slug]", "nothing-here")
    .replace("[id]", nobody)
    .replace("[...key]", "sales")
    .replace("[key]", "looked")
    .replace("[kind]", "page")
    .replace("[step]", "submit");
const guarded = Object.entries({ ...routes, ...contractRules }).filter(([pattern, { who }]) => who !== "anyone" && pattern !== "/api/desk/[...path]");

/** Signs somebody in by the database: a session of a surface for a subject. */
const sessionFor = async (kind: "desk" | "partner" | "buyer", subject: (client: pg.Client) => Promise<string>): Promise<string> => {
  const client = new pg.Client({ connectionString: stack()["DATABASE_URL"] });
  await client.connect();
  const token = randomUUID() + randomUUID();
  const hash = createHash("sha256").update(token).digest("hex");
  await client.query(
    "insert into session (token_hash, kind, subject_id, created_at, seen_at, expires_at) values ($1, $2, $3, now(), now(), now() + interval '30 days')",
    [hash, kind, await subject(client)],
  );
  await client.end();
  return `ib_${kind}=${token}`;
};
const deskUser = (role: string) => async (client: pg.Client) => {
  const id = randomUUID();
  await client.query("insert into desk_user (id, email, name, password_hash, role) values ($1, $2, $3, '-', $3)", [id, `${id}@team.example`, role]);
  return id;
};
const firstOf = (table: string) => async (client: pg.Client) =>
  (await client.query<{ id: string }>(`select id from ${table} order by id limit 1`)).rows[0]!.id;

/** Spellings of a path that a server might take for the same. */
const spellings = (path: string): string[] => [
  path,
  `/${path}`,
  `//${path}`,
  `/\\${path.slice(1)}`,
  `\\${path.slice(1)}`,
  `/.${path}`,
  `/x/..${path}`,
  `/l/..${path}`,
  `/l/%2e%2e${path}`,
  `/%2e${path}`,
  `/%2f${path.slice(1)}`,
  path.replace("/desk", "/%64esk").replace("/partner", "/p%61rtner").replace("/library", "/l%69brary"),
  path.replace("/desk", "/Desk").replace("/partner", "/PARTNER").replace("/library", "/Library"),
  path.replace("/desk", "/desk%2f").replace("/partner", "/partner%5c"),
  path.replaceAll("/", "//"),
  path.replaceAll("/", "/./"),
  `${path}/`,
  `${path}//`,
  `${path}%00`,
  `${path}%20`,
  `${path};x`,
  `${path}/../${path.split("/").at(-1)}`,
  `${path}?x=/l/gansey`,
  `http://elsewhere.example${path}`,
];

test("every route is declared, and what is declared is there", () => {
  const files = readdirSync(join(root, "src/pages"), { recursive: true, encoding: "utf8" })
    .filter((file) => /\.(ts|astro)$/.test(file))
    .map((file) => `/${file}`.replace(/\.(ts|astro)$/, "").replace(/\/index$/, "") || "/");
  expect(Object.keys(routes).sort()).toEqual(files.sort());
});

test("no spelling of an address lets anybody in who has no business there", async () => {
  const callers: Record<string, string> = {
    nobody: "",
    "a forged session": "ib_desk=AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA; ib_partner=x; ib_buyer=x",
    "a partner": await sessionFor("partner", firstOf("partner")),
    "a buyer": await sessionFor("buyer", firstOf("contact")),
  };
  // Asked of thousands of answers: an expectation for each would take longer than all of them.
  const faults: string[] = [];
  const own: Record<string, string> = { "a partner": "partner", "a buyer": "buyer" };
  for (const [caller, cookie] of Object.entries(callers))
    for (const [pattern, { who }] of guarded) {
      if (own[caller] === who) continue;
      // Real data would stand at the launch's own addresses: those are asked for.
      const path = addressOf(pattern).replace("nothing-here", "gansey");
      // All of them for who has no session at all; for the others those that have let somebody in before.
      const tried = caller === "nobody" ? spellings(path) : spellings(path).slice(0, 5);
      const answers = await Promise.all(tried.map(async (spelled) => ({ spelled, ...(await raw(spelled, { headers: { cookie } })) })));
      for (const { spelled, status, headers, body } of answers) {
        const { location = "" } = headers;
        const wrong = [
          ...([303, 400, 401, 403, 404, 405].includes(status) ? [] : [`is answered ${status}`]),
          ...(status !== 303 || /^\/(desk|partner|library)\/sign-in/.test(location) ? [] : [`leads to ${location}`]),
          ...(/@wool\.example|try=ey/.test(body) ? ["says what is nobody's business"] : []),
          ...(headers["set-cookie"] ? ["gives a cookie"] : []),
        ];
        faults.push(...wrong.map((what) => `${caller}: ${spelled} ${what}`));
      }
    }
  expect(faults).toEqual([]);
});

test("each role may do what the table of permissions says, at every endpoint of the desk", async () => {
  const sessions = Object.fromEntries(await Promise.all(roles.map(async (role) => [role, await sessionFor("desk", deskUser(role))] as const)));
  const faults = await accessFaults(Object.fromEntries(guarded), (pattern, method, role) => {
    const headers = { cookie: sessions[role]!, "content-type": "application/json" };
    return raw(addressOf(pattern), { method, headers, ...(method === "POST" ? { chunks: [Buffer.from("{}")] } : {}) });
  });
  expect(faults).toEqual([]);
  const asked = new Set(guarded.flatMap(([, { allow }]) => Object.values(allow ?? {})));
  // What no route asks for is asked for within a use case.
  expect(Object.keys(permissions).filter((one) => !asked.has(one as Permission))).toEqual(["listing.accept_terms", "person.books"]);
});

test("what is no request is refused at every endpoint of the desk, in words and as data, before anything is done", async () => {
  const cookie = await sessionFor("desk", deskUser("owner"));
  // The body of one that takes a file is a file.
  const takesFile = new Set(endpoints.filter(({ method, file }) => method === "POST" && file).map(({ path }) => `/api/desk/${path}`));
  for (const [pattern, { allow }] of Object.entries(contractRules)) {
    if (!allow!.POST || takesFile.has(pattern)) continue;
    const send = async (body: string) => {
      const headers = { cookie, "content-type": "application/json" };
      const answer = await raw(addressOf(pattern), { method: "POST", headers, chunks: [Buffer.from(body)] });
      return { status: answer.status, ...(JSON.parse(answer.body) as object) };
    };
    for (const body of ['"wrong"', "null", "[]"])
      expect(await send(body), `${body} to ${pattern}`).toMatchObject({
        status: 422,
        code: "fields",
        refusal: { code: "fields", outcome: "nothing_saved" },
        faults: { "": { code: "unreadable" } },
        fields: { "": "This cannot be read. Look at it again." },
      });
    expect(await send("{"), `half a body to ${pattern}`).toMatchObject({ status: 400, code: "not_json" });
  }
});

test("a body that is too large is cut off in words, announced or not, before a signature or a session is looked at", async () => {
  for (const [pattern, { mostBytes }] of Object.entries({ ...routes, ...contractRules }).filter(([pattern]) =>
    /notices|\/l\/|sign-in|api\/desk\/tax/.test(pattern),
  )) {
    const path = addressOf(pattern).replace("nothing-here", "primer").replace("[...path]", "gansey/do/start");
    const announced = await raw(path, { method: "POST", headers: { "content-length": "400000000" }, chunks: megabytes(1) });
    expect(announced.status, path).toBe(413);
    expect(announced.body, path).toContain("is the most that can be sent here");
    if (pattern.startsWith("/api/desk")) continue;
    const type = { "content-type": pattern.startsWith("/api/") ? "application/json" : "application/x-www-form-urlencoded" };
    const { status, body, sent } = await raw(path, { method: "POST", headers: { ...type, "transfer-encoding": "chunked" }, chunks: megabytes(400) });
    expect(status, path).toBe(413);
    expect(body, path).toContain("is the most that can be sent here");
    // Megabytes of it were never read: little more went out than what the network holds.
    expect(sent, path).toBeLessThan(mostBytes + 16 * 1024 * 1024);
  }
  expect((await (await fetch(at("/healthz"))).json()) as unknown).toMatchObject({ ok: true });
});

test("an answer that comes before its request says that the connection ends, and no later request is lost with it", async () => {
  const path = "/api/desk/tax";
  const early = await raw(path, { method: "POST", headers: { connection: "keep-alive", "content-length": "2" }, chunks: [] });
  expect([early.status, early.headers["connection"]]).toEqual([401, "close"]);
  expect(early.body).toContain("{");
  // As sent by programs that keep connections and name no origin, for longer than the moment after which one is cut off.
  for (let n = 0; n < 40; n += 1) {
    expect((await fetch(at(path), { method: "POST", body: "{}" })).status).toBe(403);
    await new Promise((next) => setTimeout(next, 50));
  }
});

test("what cannot be read is refused with a clear word, and never with a failure", async () => {
  const form = (path: string, body: string, type = "application/x-www-form-urlencoded") =>
    raw(path, { method: "POST", headers: { "content-type": type }, chunks: [Buffer.from(body)] });
  const tries: [number, Promise<{ status: number; body: string }>][] = [
    [400, form("/l/gansey/do/start", "email=a%00b")],
    [415, form("/l/gansey/do/start", "{}", "text/plain")],
    [415, form("/library/sign-in", "{}", "application/json")],
    [400, form("/l/gansey/do/start", "not a multipart", "multipart/form-data; boundary=x")],
    [404, form("/l/gansey/do/constructor", "a=b")],
    [404, form("/l/gansey/do/__proto__", "a=b")],
    [404, form("/l/constructor/do/start", "a=b")],
    [400, raw("/desk?to=%00")],
    [404, raw("/_image?href=/x.png&w=1")],
    [404, raw("/no/such/thing")],
    [404, raw("/media/none")],
    [
      200,
      raw("/l/gansey?at=constructor&as=__proto__&p=%FF%FE", {
        headers: { cookie: "ib_v=%7f; ib_f=e30; ib_k=%", "accept-language": "-;q=x,,", range: "bytes=x" },
      }),
    ],
    [401, form("/api/notices/card-desk", "{", "application/json")],
  ];
  for (const [index, [expected, answer]] of tries.entries()) {
    const { status, body } = await answer;
    expect(status === 303 ? 200 : status, `try ${index}`).toBe(expected);
    if (expected >= 400 && index !== 10) expect(body.length, `try ${index}`).toBeGreaterThan(30);
  }
  // Unknown blocks of a page, and text that no column holds, at the desk.
  const cookie = await sessionFor("desk", deskUser("owner"));
  const json = (path: string, body: string) =>
    raw(path, { method: "POST", headers: { cookie, "content-type": "application/json" }, chunks: [Buffer.from(body)] });
  const draft = { version: 1, content: { title: "x", sections: [{ id: "a", blocks: [{ id: "b", type: "unknown" }] }] } };
  expect((await json(`/api/desk/pages/${nobody}/draft`, JSON.stringify(draft))).status).toBe(422);
  expect((await json("/api/desk/tax", '{"country":"\\u0000"}')).status).toBe(400);
  expect((await json("/api/desk/tax", "{")).status).toBe(400);
  expect((await json(`/api/desk/pages/not-an-id/publish`, "{}")).status).toBe(404);
});

test("personal answers are kept by no cache, and every answer says what may be in it", async () => {
  const cookie = await sessionFor("desk", deskUser("owner"));
  for (const path of [
    "/desk",
    "/desk/money",
    "/desk/orders/list.csv",
    "/desk/sign-in",
    "/library/sign-in",
    "/unsubscribe?u=x",
    "/preview/x",
    "/l/gansey",
    "/l/gansey/checkout",
  ]) {
    const { headers } = await raw(path, { headers: { cookie } });
    expect(headers["cache-control"], path).toMatch(/no-store/);
    expect(headers["x-content-type-options"], path).toBe("nosniff");
  }
});

test("a proxy is believed only where it is trusted: a made-up address does not start the count anew", async () => {
  const guess = (n: number) =>
    raw("/desk/sign-in", {
      method: "POST",
      headers: { "content-type": "application/x-www-form-urlencoded", "x-forwarded-for": `10.0.0.${n}` },
      chunks: [Buffer.from(`email=proxy-${nobody}@marram.example&password=guess`)],
    });
  const statuses: number[] = [];
  for (let n = 0; n < 7; n += 1) statuses.push((await guess(n)).status);
  expect(statuses.slice(0, 5)).toEqual([422, 422, 422, 422, 422]);
  expect(statuses.slice(5)).toContain(429);
});
