import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { signIn } from "../../src/server/platform/access/session";
import { makeFirstOwner, mustBeWayIn, openWayIn } from "../../src/server/settings/firstOwner";
import { DeskUser, Vendor } from "../../src/store/tables";
import { startWorld, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const given = { vendor: "Rook & Rye", country: "IE", name: "Nuala", email: "nuala@rook.example", password: "a long password" };

describe("the way in of an installation without an owner", () => {
  it("is not there while somebody can sign in", async () => {
    const now = world.app.clock.now();
    expect(await openWayIn(em(), now)).toBeUndefined();
    await expect(mustBeWayIn(em(), "anything", now)).rejects.toMatchObject({ code: "link_over" });
  });
  it("holds for a day and for one owner; a newer one takes its place; the vendor is theirs", async () => {
    await em().nativeDelete(DeskUser, {});
    await em().nativeDelete(Vendor, {});
    const now = world.app.clock.now();
    const later = (hours: number) => new Date(now.getTime() + hours * 3_600_000);
    const first = (await openWayIn(em(), now))!;
    const second = (await openWayIn(em(), now))!;
    await expect(mustBeWayIn(em(), first, now)).rejects.toMatchObject({ code: "link_over" });
    await mustBeWayIn(em(), second, later(23));
    await expect(mustBeWayIn(em(), second, later(24))).rejects.toMatchObject({ code: "link_over" });
    const tries = await Promise.allSettled([1, 2].map(() => makeFirstOwner(world.app, second, given, "")));
    expect(tries.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected"]);
    expect(await em().find(DeskUser, {})).toMatchObject([{ role: "owner", name: "Nuala", email: "nuala@rook.example" }]);
    expect(world.app.vendor).toMatchObject({ name: "Rook & Rye", country: "IE", sender: { name: "Rook & Rye" } });
    expect(await openWayIn(em(), now)).toBeUndefined();
    expect(await signIn(world.app, em(), "desk", given.email, given.password, "here")).toBeTruthy();
  });
});
