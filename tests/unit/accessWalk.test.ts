import { describe, expect, it } from "vitest";
import { can, type Role } from "../../src/core/access";
import { type Endpoint, get, getFile, post, postFile } from "../../src/contract/endpoint";
import { contractRules, rulesFor } from "../../src/server/platform/http/routes";
import { accessFaults } from "../support/accessWalk";

/** A site whose endpoints ask for what they declare, but for those that are planted open. */
const site = (endpoints: readonly Endpoint[], open: readonly Endpoint[] = []) => {
  const ask = (pattern: string, method: string, role: Role) => {
    const found = endpoints.find((one) => `/api/desk/${one.path}` === pattern && one.method === method);
    if (!found) return Promise.resolve({ status: 405, body: "{}" });
    if (open.includes(found) || can({ role }, found.permission)) return Promise.resolve({ status: 200, body: "{}" });
    return Promise.resolve({ status: 403, body: JSON.stringify({ code: "not_allowed", refusal: { permission: found.permission } }) });
  };
  return accessFaults(rulesFor(endpoints), ask);
};

describe("the walk through the contract", () => {
  const guarded = [post("tax", { permission: "tax.edit" }), get("tax"), postFile("import", { permission: "launch.import" })];
  it("finds nothing where each endpoint asks for what it declares", async () => {
    expect(await site(guarded)).toEqual([]);
  });
  it("fails for a planted endpoint that asks for no permission, by each role that has none", async () => {
    const planted = post("planted", { permission: "order.refund" });
    expect(await site([...guarded, planted], [planted])).toEqual([
      "editor, POST /api/desk/planted: 200 without order.refund",
      "viewer, POST /api/desk/planted: 200 without order.refund",
    ]);
    const file = getFile("planted", { permission: "launch.export" });
    expect(await site([file], [file])).not.toEqual([]);
  });
  it("fails where a method that is not declared is answered, and where who may is refused", async () => {
    const tax = guarded[0]!;
    const answered = await accessFaults(rulesFor([tax]), (_, method, role) =>
      Promise.resolve(
        method === "DELETE" || can({ role }, "tax.edit")
          ? { status: method === "DELETE" ? 200 : 403, body: "{}" }
          : { status: 403, body: JSON.stringify({ code: "not_allowed", refusal: { permission: "tax.edit" } }) },
      ),
    );
    expect(answered).toContain("owner, POST /api/desk/tax: 403 with tax.edit");
    expect(answered).toContain("DELETE /api/desk/tax: 200, and no such method is declared");
  });
  it("goes to every endpoint that the contract declares", () => {
    expect(Object.keys(contractRules).length).toBeGreaterThan(60);
  });
});
