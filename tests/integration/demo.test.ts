import pg from "pg";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { phaseFor, priceAt, seatsLeft, windowFor } from "../../src/core/launch";
import { loadCrowd, signedIn } from "../../bench/crowd";
import { seedDemo } from "../../demo/seed";
import type { PastPayment } from "../../standins/card-desk/past";
import { seeded } from "../../demo/random";
import { sessionSubject } from "../../src/server/platform/access/session";
import { loadLaunch } from "../../src/server/launch/launchContext";
import { ledgerBalances } from "../../src/store/money/ledgerBalances";
import { pageFigures } from "../../src/store/pages/pageFigures";
import { launchFigures } from "../../src/store/launch/launchFigures";
import { lostBuyers } from "../../src/store/leaks/lostBuyers";
import { stageFunnel } from "../../src/store/leaks/stageFunnel";
import { feeOf } from "../../standins/card-desk/state";
import { Vendor } from "../../src/store/tables";
import { startWorld, type World } from "../support/world";

const now = new Date("2026-11-23T14:00:00Z");
let world: World;
let payments: PastPayment[];
beforeAll(async () => {
  world = await startWorld();
  await world.app.fork().execute("delete from tax_rate");
  await world.app.fork().nativeDelete(Vendor, {});
  payments = await seedDemo(world.app.fork(), world.app.files, now);
});
afterAll(() => world.stop());

const sum = async (sql: string) => (await world.app.fork().execute<{ sum: string }[]>(sql))[0]!.sum;

describe("the demo", () => {
  it("finds the main launch with doors open, about two days before its closing bell", async () => {
    const { plan } = (await loadLaunch(world.app.fork(), { slug: "gansey" }))!;
    expect(phaseFor(plan, {}, now)).toBe("during");
    const left = (windowFor(plan, {}, now)!.closes.getTime() - now.getTime()) / 86_400_000;
    expect(left).toBeGreaterThan(1.5);
    expect(left).toBeLessThan(3);
  });
  it("has some thousands of people, and stages that only shrink", async () => {
    const { launch } = (await loadLaunch(world.app.fork(), { slug: "gansey" }))!;
    const funnel = await stageFunnel(world.app.fork(), { launchId: launch.id, now });
    expect(funnel.visited).toBe(6_200);
    expect(funnel.saw_sales).toBeLessThan(funnel.visited);
    expect(funnel.began_checkout).toBeLessThan(funnel.saw_sales);
    expect(funnel.paid).toBeLessThan(funnel.began_checkout);
    expect(funnel.paid).toBe((await launchFigures(world.app.fork(), { now })).get(launch.id)!.orders);
  });
  it("balances: every journal to zero, and what buyers paid is what the accounts hold", async () => {
    expect(await world.app.fork().execute("select 1 from posting group by journal_id having sum(minor) <> 0")).toEqual([]);
    const balances = Object.fromEntries((await ledgerBalances(world.app.fork(), now)).map(({ account, minor }) => [account, minor]));
    expect(Number(await sum("select sum(gross_minor) as sum from order_line"))).toBe(balances["processor_clearing"]! + balances["processor_fees"]!);
    expect(Number(await sum("select sum(tax_minor) as sum from order_line"))).toBe(-balances["tax_payable"]!);
    expect(Number(await sum("select sum(minor) as sum from commission"))).toBe(-balances["partner_payable"]!);
  });
  it("has a card payment behind every order and every offer taken, as the processor remembers it", async () => {
    const charges = await world.app
      .fork()
      .execute<{ processor_id: string; state: string; amount_minor: string; fee: string | null; gross: string | null }[]>(
        "select g.processor_id, g.state, g.amount_minor, sum(n.fee_minor) as fee, sum(n.gross_minor) as gross from charge g left join order_line n on n.charge_id = g.id group by g.id",
      );
    const notified = new Map(payments.map((one) => [one.id, one]));
    expect(charges).toHaveLength(notified.size);
    for (const { processor_id, state, amount_minor, fee, gross } of charges) {
      const payment = notified.get(processor_id)!;
      expect(state).toBe(payment.refused ? "declined" : "succeeded");
      expect(Number(amount_minor)).toBe(payment.amount);
      if (!payment.refused) expect([Number(gross), Number(fee)]).toEqual([payment.amount, feeOf(payment.amount, payment.currency)]);
    }
    expect(await world.app.fork().execute("select 1 from order_line where charge_id is null")).toEqual([]);
    expect(payments.filter(({ refused }) => refused).length).toBeGreaterThan(10);
  });
  it("lets nothing happen after the moment it is seeded for", async () => {
    for (const [table, column] of [
      ["event", "at"],
      ["sale_order", "placed_at"],
      ["charge", "created_at"],
      ["checkout", "last_activity_at"],
      ["email_message", "sent_at"],
    ] as const) {
      const [row] = await world.app.fork().execute<{ late: string }[]>(`select count(*) as late from ${table} where ${column} > ?`, [now]);
      expect(Number(row!.late), table).toBeLessThanOrEqual(table === "checkout" ? 5 : 0);
    }
    const waiting = await world.app.fork().execute<{ topic: string; due_at: string }[]>("select topic, due_at from outbox");
    expect(waiting.map(({ topic }) => topic)).toEqual(Array(4).fill("run_bells"));
    expect(waiting.every(({ due_at }) => new Date(due_at) > now)).toBe(true);
  });
  it("keeps its claims: nobody bought outside their own time, at another price than the day's, or beyond the seats", async () => {
    const em = world.app.fork();
    const primer = (await loadLaunch(em, { slug: "primer" }))!;
    const clocks = await em.execute<{ at: string; placed_at: string }[]>(
      "select c.at, s.placed_at from sale_order s join clock_start c on c.person_id = s.person_id and c.launch_id = s.launch_id where s.launch_id = ?",
      [primer.launch.id],
    );
    expect(clocks.length).toBeGreaterThan(50);
    for (const { at, placed_at } of clocks) expect(phaseFor(primer.plan, { starts: [new Date(at)] }, new Date(placed_at))).toBe("during");
    const gansey = (await loadLaunch(em, { slug: "gansey" }))!;
    const lines = await em.execute<{ gross_minor: string; discount_minor: string; placed_at: string }[]>(
      "select n.gross_minor, n.discount_minor, s.placed_at from order_line n join sale_order s on s.id = n.order_id where s.launch_id = ? and n.role = 'front'",
      [gansey.launch.id],
    );
    for (const { gross_minor, discount_minor, placed_at } of lines)
      expect(Number(gross_minor) + Number(discount_minor)).toBe(priceAt(gansey.plan, new Date(placed_at), { sold: 0 }).minor);
    const [code] = await em.execute<{ used: string; uses: number; off: string }[]>(
      `select count(*) as used, min(c.uses) as uses, sum(u.discount_minor) as off from coupon_use u join coupon c on c.id = u.coupon_id`,
    );
    expect(Number(code!.used)).toBeGreaterThan(3);
    expect(Number(code!.used)).toBeLessThanOrEqual(code!.uses);
    expect(Number(code!.off)).toBe(lines.reduce((sum, { discount_minor }) => sum + Number(discount_minor), 0));
    expect(seatsLeft(gansey.plan, { sold: lines.length })!.left).toBeGreaterThan(10);
  });
  it("won some buyers back, and says so in figures that fit one another", async () => {
    const { launch } = (await loadLaunch(world.app.fork(), { slug: "gansey" }))!;
    const lost = await lostBuyers(world.app.fork(), { launchId: launch.id, now });
    expect(lost.recovered).toBeGreaterThan(0);
    expect(lost.recovered).toBeLessThan(lost.sent);
  });
  it("is the same each time it is seeded", () => {
    const [a, b] = [seeded(7), seeded(7)];
    expect(Array.from({ length: 50 }, () => a.uuid())).toEqual(Array.from({ length: 50 }, () => b.uuid()));
    expect(a.uuid()).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
    const many = Array.from({ length: 4_000 }, () => a.normal());
    expect(Math.abs(many.reduce((x, y) => x + y, 0) / many.length)).toBeLessThan(0.1);
  });
});

// Last of this file: it puts a crowd beside the demo's people.
describe("the crowd of the benchmark", () => {
  let pool: pg.Pool;
  beforeAll(async () => {
    pool = new pg.Pool({ connectionString: world.settings["DATABASE_URL"] });
    await loadCrowd(pool, 400);
  });
  afterAll(() => pool.end());

  it("fits the tables as they are, with books that balance and an owner who is signed in", async () => {
    const number = async (sql: string) => Number(await sum(`select count(*) as sum from ${sql}`));
    expect(await number("person where id in (select person_id from page_rollup) and created_at > now() - interval '20 days'")).toBeGreaterThanOrEqual(
      400,
    );
    expect(await number("order_line n join sale_order s on s.id = n.order_id where s.card_last4 = '0003'")).toBeGreaterThan(3);
    expect(await number("sale_order where number is null or path_version is null")).toBe(0);
    expect(await number("(select 1 from posting group by journal_id having sum(minor) <> 0) as off")).toBe(0);
    const [owner] = (await pool.query<{ id: string }>("select id from desk_user where role = 'owner'")).rows;
    expect(await sessionSubject(world.app.fork(), "desk", await signedIn(pool, "desk", owner!.id), new Date())).toBe(owner!.id);
  });
  it("is counted on its pages as by hand: one row a person, joined with whatever they did later", async () => {
    const em = world.app.fork();
    const { launch } = (await loadLaunch(em, { slug: "gansey" }))!;
    for (const daysAgo of [-1, 3, 10]) {
      const asOf = new Date(Date.now() - daysAgo * 86_400_000);
      const rows = await em.execute<{ page: string; variant: string; acted_at: string | null; began: string | null; paid: string | null }[]>(
        `select r.page, r.variant, r.acted_at, s.began_checkout as began, s.paid from page_rollup r
         left join stage_rollup s on s.launch_id = r.launch_id and s.person_id = r.person_id where r.launch_id = ? and r.seen_at <= ?`,
        [launch.id, asOf],
      );
      const figures = await pageFigures(em, { launchId: launch.id, now: asOf, past: true });
      expect(figures.length).toBeGreaterThan(3);
      for (const figure of figures) {
        const own = rows.filter(({ page, variant }) => page === figure.page && variant === figure.variant);
        const by = (at: (row: (typeof own)[number]) => string | null) => own.filter((row) => at(row) && new Date(at(row)!) <= asOf).length;
        expect(figure).toMatchObject({
          people: own.length,
          optedIn: by((row) => row.acted_at),
          began: by((row) => row.began),
          paid: by((row) => row.paid),
        });
        expect(await pageFigures(em, { launchId: launch.id, now: asOf, past: true }, figure.page)).toContainEqual(figure);
      }
    }
  });
});
