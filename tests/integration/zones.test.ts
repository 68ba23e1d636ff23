import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { resolveWallTime, type ResolvedWallTime } from "../../src/core/launch";
import { startWorld, type World } from "../support/world";

let world: World;
beforeAll(async () => void (world = await startWorld()));
afterAll(() => world.stop());

describe("wall times against PostgreSQL's own time zone database", () => {
  const zones = ["Europe/Lisbon", "America/New_York", "Australia/Lord_Howe", "Asia/Kathmandu", "Pacific/Auckland"];

  it.each(zones)("agree in %s, every seven hours through two years, wherever the time exists once", async (zone) => {
    const walls = Array.from({ length: 2500 }, (_, i) => new Date(Date.UTC(2026, 0, 1) + i * 7 * 3_600_000).toISOString().slice(0, 16));
    const rows = await world.app
      .fork()
      .execute<{ wall: string; ms: string }[]>(
        "select wall, extract(epoch from wall::timestamp at time zone ?) * 1000 as ms from jsonb_array_elements_text(?::jsonb) as wall",
        [zone, JSON.stringify(walls)],
      );
    let compared = 0;
    for (const { wall, ms } of rows) {
      const resolved = resolveWallTime(wall, zone) as ResolvedWallTime;
      if (resolved.standing !== "exact") continue;
      expect(resolved.instant.getTime(), `${wall} ${zone}`).toBe(Number(ms));
      compared += 1;
    }
    expect(compared).toBeGreaterThan(2490);
  });

  it("agree that a time which DST skips in Berlin moves an hour later", async () => {
    const [row] = await world.app
      .fork()
      .execute<{ at: string }[]>("select to_char('2026-03-29 02:30'::timestamp at time zone 'Europe/Berlin' at time zone 'UTC', 'HH24:MI') as at");
    expect(row!.at).toBe("01:30");
    expect((resolveWallTime("2026-03-29T02:30", "Europe/Berlin") as ResolvedWallTime).instant.toISOString().slice(11, 16)).toBe(row!.at);
  });
});
