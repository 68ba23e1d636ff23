import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { retryWork } from "../../../contract/work";
import { countPeople } from "../../../contract/people";
import { call } from "./call";

const answered = (body: string, status = 200) => vi.fn(() => Promise.resolve(new Response(body, { status })));
const serve = (fetch: () => Promise<Response>) => vi.stubGlobal("fetch", fetch);
const count = () => call(countPeople, { params: { slug: "yoke & co" }, request: { who: "paid" } });

describe("an endpoint that is called", () => {
  beforeEach(() =>
    vi.stubGlobal("location", { href: "https://desk.example/desk/yoke/people?at=2026-11-20T10:00:00.000Z", search: "?at=2026-11-20T10:00:00.000Z" }),
  );
  afterEach(() => void vi.unstubAllGlobals());

  it("is found at its address, and read as of the instant that the screen shows", async () => {
    const fetch = answered('{"people":3}');
    serve(fetch);
    expect(await count()).toEqual({ ok: true, value: { people: 3 } });
    const [[url]] = fetch.mock.calls as unknown as [[URL]];
    expect(url.pathname).toBe("/api/desk/yoke%20%26%20co/people/count");
    expect(Object.fromEntries(url.searchParams)).toEqual({ at: "2026-11-20T10:00:00.000Z", who: "paid" });
  });
  it("tells a server that was not reached from one that said no, and from one that said something else", async () => {
    serve(() => Promise.reject(new TypeError("network")));
    expect(await count()).toMatchObject({ ok: false, code: "no_connection", message: "The server cannot be reached." });
    serve(answered('{"code":"not_allowed","message":"Signed in as viewer.","fields":{}}', 403));
    expect(await count()).toEqual({ ok: false, code: "not_allowed", message: "Signed in as viewer.", fields: {} });
    for (const [body, status] of [
      ["<h1>Bad gateway</h1>", 502],
      ["{}", 500],
      ['{"people":"many"}', 200],
      ["", 200],
    ] as const) {
      serve(answered(body, status));
      expect(await count(), body).toMatchObject({ ok: false, code: "not_understood" });
    }
  });
  it("is never said to have been lost where it may have been done", async () => {
    serve(answered('{"n":"one"}'));
    const answer = await call(retryWork, { request: { what: "work", id: "7" } });
    expect(answer).toMatchObject({ ok: false, message: expect.stringContaining("may have been done") as string });
  });
});
