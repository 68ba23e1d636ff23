import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { resolveWallTime, type ResolvedWallTime } from "../../src/core/launch";
import { startWorld, type World } from "../support/world";

let world: World;
beforeAll(async () => void (world = await startWorld()));
afterAll(() => world.stop());

describe("wall times against PostgreSQL's own time zone database", () => {
  const zones = [
    "Europe/Lisbon",
    "America/New_York",
    "Australia/Lord_Howe",
    "Asia/Kathmandu",
    "Pacific/Auckland",
    "Europe/Dublin",
    "Africa/Casablanca",
    "Antarctica/Troll",
    "America/St_Johns",
  ];

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
      // Of a time that comes twice PostgreSQL takes the second, or where there is no standard time the first.
      if (resolved.status !== "exact") continue;
      expect(resolved.instant.getTime(), `${wall} ${zone}`).toBe(Number(ms));
      compared += 1;
    }
    expect(compared).toBeGreaterThan(2490);
  });

  it.each(["Europe/Dublin", "Africa/Casablanca", "Antarctica/Troll", "America/St_Johns", "Australia/Lord_Howe", "Europe/Lisbon"])(
    "agree in %s that a time which comes twice is the first of the two",
    async (zone) => {
      // Every quarter of an hour of two years: those that come twice are few.
      const walls = Array.from({ length: 2 * 366 * 96 }, (_, i) => new Date(Date.UTC(2026, 0, 1) + i * 900_000).toISOString().slice(0, 16)).filter(
        (wall) => (resolveWallTime(wall, zone) as ResolvedWallTime).status === "overlap",
      );
      expect(walls.length).toBeGreaterThan(1);
      const instants = walls.map((wall) => (resolveWallTime(wall, zone) as ResolvedWallTime).instant.getTime());
      const rows = await world.app.fork().execute<{ wall: string; before: number; again: number }[]>(
        `with asked as (select * from unnest(?::text[], ?::bigint[]) as a(wall, ms))
         select wall, count(*) filter (where other < ms)::int as before, count(*) filter (where other > ms)::int as again
         from asked, generate_series(-16, 16) as step, lateral (select ms + step * 900000 as other) o
         where step <> 0 and to_char(to_timestamp(other / 1000.0) at time zone ?, 'YYYY-MM-DD"T"HH24:MI') = wall group by 1`,
        [`{${walls.join(",")}}`, `{${instants.join(",")}}`, zone],
      );
      expect(rows).toHaveLength(walls.length);
      for (const { wall, before, again } of rows) expect([before, again], `${wall} ${zone}`).toEqual([0, 1]);
    },
  );

  it("agree that a time which DST skips in Berlin moves an hour later", async () => {
    const [row] = await world.app
      .fork()
      .execute<{ at: string }[]>("select to_char('2026-03-29 02:30'::timestamp at time zone 'Europe/Berlin' at time zone 'UTC', 'HH24:MI') as at");
    expect(row!.at).toBe("01:30");
    expect((resolveWallTime("2026-03-29T02:30", "Europe/Berlin") as ResolvedWallTime).instant.toISOString().slice(11, 16)).toBe(row!.at);
  });
});
