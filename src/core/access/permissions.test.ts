import { describe, expect, it } from "vitest";
import { can, permissions, roles, whoMay, type Permission } from ".";

const all = Object.keys(permissions) as Permission[];

describe("permissions", () => {
  it("let the owner do everything", () => {
    for (const permission of all) expect(can({ role: "owner" }, permission), permission).toBe(true);
  });
  it("let a viewer look, change their own password and sessions, and nothing else", () => {
    expect(all.filter((permission) => can({ role: "viewer" }, permission))).toEqual(["desk.view", "account.edit"]);
  });
  it("let nobody do anything who is not signed in, or whose role is unknown", () => {
    for (const permission of all) {
      expect(can(undefined, permission), permission).toBe(false);
      expect(can({ role: "constructor" }, permission), permission).toBe(false);
    }
  });
  it("keep tax and money with owner and finance, and pages with owner and editor", () => {
    const may = (permission: Permission) => roles.filter((role) => can({ role }, permission));
    expect(may("tax.edit")).toEqual(["owner", "finance"]);
    expect(may("order.refund")).toEqual(["owner", "finance"]);
    expect(may("order.export")).toEqual(["owner", "finance"]);
    expect(may("page.publish")).toEqual(["owner", "editor"]);
    expect(whoMay("tax.edit")).toBe("owner or finance");
  });
});
