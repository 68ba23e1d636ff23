import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { endpoints } from ".";
import { permissions } from "../core/access";
import { addressOf, paramsIn, pathAt } from "./endpoint";
import { countPeople, personSeen } from "./people";

describe("the contract", () => {
  it("names each endpoint once, with a permission that there is", () => {
    const names = endpoints.map(({ method, path }) => `${method} ${path}`);
    expect(names.length).toBeGreaterThan(50);
    expect(new Set(names).size).toBe(names.length);
    for (const { permission, path } of endpoints) expect(Object.keys(permissions), path).toContain(permission);
  });
  it("asks for more than to look wherever something may be changed", () => {
    // Works out what a change would do, and writes nothing.
    const looks = ["[slug]/clock/summary"];
    expect(endpoints.filter(({ method, permission }) => method === "POST" && permission === "desk.view").map(({ path }) => path)).toEqual(looks);
    for (const { method, mostBytes, path } of endpoints) if (method === "GET") expect([path, mostBytes]).toEqual([path, 0]);
  });
  it("finds an endpoint by the address that is made of it, whatever it is about", () => {
    fc.assert(
      fc.property(fc.constantFrom(...endpoints), fc.string({ minLength: 1, maxLength: 12 }), ({ path }, name) => {
        const params = Object.fromEntries([...path.matchAll(/\[(\w+)\]/g)].map(([, key]) => [key!, name]));
        const read = paramsIn(path, addressOf(path, params));
        expect(read && Object.fromEntries(Object.entries(read).map(([key, value]) => [key, decodeURIComponent(value)]))).toEqual(params);
      }),
    );
  });
  it("means the endpoint that says more of the address", () => {
    const paths = [personSeen.path, countPeople.path];
    expect(pathAt(paths, "gansey/people/count")).toEqual({ path: countPeople.path, params: { slug: "gansey" } });
    expect(pathAt(paths, "gansey/people/7")).toEqual({ path: personSeen.path, params: { slug: "gansey", id: "7" } });
    expect(pathAt(paths, "gansey/people/7/more")).toBeUndefined();
  });
});
