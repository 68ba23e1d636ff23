import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { retentionRequest } from "../../src/core/settings";
import { writeEvents, type LoggedEvent } from "../../src/store/events/writeEvents";
import { startCheckout } from "../../src/server/checkout/checkout";
import { changeRetention } from "../../src/server/settings/retention";
import { Charge, Checkout, EmailMessage } from "../../src/store/tables";
import { edgeOfLog, ensureEventPartitions } from "../../src/store/events/partitions";
import { rebuildFigures } from "../../src/store/events/rebuild";
import { pageFigures } from "../../src/store/pages/pageFigures";
import { stageFunnel } from "../../src/store/leaks/stageFunnel";
import { retentionOf, sweepRetention } from "../../src/store/settings/retention";
import { buy, buyer, cards, openLaunch, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const day = 86_400_000;
const number = async (sql: string, values: unknown[] = []) =>
  Number((await em().execute<{ n: string }[]>(`select count(*) as n from ${sql}`, values))[0]!.n);
const keep = (what: "log" | "visits" | "mail" | "notices" | "checkouts", days: number | null) => changeRetention(em(), world.owner, { what, days });

describe("retention", () => {
  it("is the owner's to change, within what is needed, and may be taken back", async () => {
    for (const role of ["editor", "finance", "viewer"] as const)
      await expect(changeRetention(em(), someone(role), { what: "log", days: 60 })).rejects.toMatchObject({ status: 403 });
    for (const days of [0, 29, -1, 30.5, 4_000]) expect(retentionRequest.safeParse({ what: "log", days }).success).toBe(false);
    expect(retentionRequest.safeParse({ what: "orders", days: 60 }).success).toBe(false);
    expect(await keep("log", 60)).toEqual({ log: 60 });
    expect(await keep("log", 90)).toEqual({ log: 90 });
    expect(await keep("log", null)).toEqual({});
  });

  it("drops what was logged long ago, and every figure stays what it was", async () => {
    const own = await openLaunch(world);
    const now = world.app.clock.now();
    const launchId = own.launch.id;
    await ensureEventPartitions(em(), new Date(now.getTime() - 100 * day), new Date(now.getTime() - 20 * day));
    const view = (daysAgo: number): LoggedEvent => ({
      launchId,
      visitorId: randomUUID(),
      kind: "saw_sales",
      at: new Date(now.getTime() - daysAgo * day),
      page: "sales",
      data: { variant: "A" },
    });
    await em().transactional((tx) => writeEvents(tx, [...[400, 95, 80, 62, 40, 1].map(view), ...[90, 3].map(view)]));
    const figures = async () => [
      await pageFigures(em(), { launchId, now }),
      await stageFunnel(em(), { launchId, now }),
      await stageFunnel(em(), { launchId, now, past: true }),
    ];
    const before = await figures();
    const logged = () => number("event where launch_id = ?", [launchId]);
    expect(await logged()).toBe(8);
    await keep("log", 60);
    await keep("visits", 60);
    const gone = await sweepRetention(em(), now);
    expect(gone.log).toBeGreaterThan(3);
    // Whole weeks go: what is left is at most six days older than it must be.
    const edge = await edgeOfLog(em());
    expect((now.getTime() - edge.getTime()) / day - 60).toBeLessThan(7);
    expect(await number("event where at < ?", [edge])).toBe(0);
    expect(await logged()).toBeLessThanOrEqual(4);
    expect(await number("day_rollup where launch_id = ?", [launchId])).toBe(3);
    expect(await figures()).toEqual(before);
    await rebuildFigures(em(), edge);
    expect(await figures()).toEqual(before);
    await sweepRetention(em(), now);
    expect(await edgeOfLog(em())).toEqual(edge);
    expect(await retentionOf(em())).toEqual({ log: 60, visits: 60 });
  });

  it("forgets checkouts that nobody paid, with the cards that were refused; not those that are paid, being paid, or waited for", async () => {
    const own = await openLaunch(world);
    const refused = (await buy(world, own, visitor(), buyer(), cards.poor)).charge;
    const paid = (await buy(world, own)).order!;
    const [asked, waiting] = [visitor(), visitor()];
    const challenged = (await buy(world, own, asked, buyer(), cards.asks)).charge;
    const open = await startCheckout(world.app, em(), own, buyer(), waiting);
    const [left] = await em().find(Checkout, { visitorId: waiting.visitorId });
    expect(open).toBeDefined();
    const mine = await em().find(Checkout, { launchId: own.launch.id });
    expect(mine).toHaveLength(4);
    const later = new Date(world.app.clock.now().getTime() + 40 * day);
    await keep("checkouts", 30);
    // Its email to the lost buyer is due: first it goes.
    await sweepRetention(em(), later);
    expect((await em().find(Checkout, { launchId: own.launch.id })).map(({ id }) => id)).toContain(left!.id);
    await em().nativeUpdate(EmailMessage, { launchId: own.launch.id, state: "due" }, { state: "sent", sentAt: world.app.clock.now() });
    await sweepRetention(em(), later);
    const kept = (await em().find(Checkout, { launchId: own.launch.id })).map(({ id }) => id).sort();
    expect(kept).toEqual([paid.checkoutId!, challenged.checkoutId].sort());
    expect(await em().count(Charge, { id: refused.id })).toBe(0);
    // That the email went stays known: it must not go again.
    expect(await number("email_message where key like 'recovery:%' and launch_id = ?", [own.launch.id])).toBeGreaterThan(0);
  });

  it("empties emails that went long ago and deletes old notices", async () => {
    const own = await openLaunch(world);
    await buy(world, own);
    const now = world.app.clock.now();
    await em().execute("insert into notice (id, source, message_id, body, received_at) values (?, 'card', ?, '{}', ?)", [
      randomUUID(),
      randomUUID(),
      now,
    ]);
    await em().nativeUpdate(EmailMessage, { launchId: own.launch.id, kind: "receipt" }, { state: "sent", sentAt: now });
    await keep("mail", 30);
    await keep("notices", 30);
    const receipts = "email_message where launch_id = ? and kind = 'receipt'";
    await sweepRetention(em(), new Date(now.getTime() + 29 * day));
    expect(await number(`${receipts} and data <> '{}'`, [own.launch.id])).toBe(1);
    await sweepRetention(em(), new Date(now.getTime() + 32 * day));
    expect([await number(receipts, [own.launch.id]), await number(`${receipts} and data <> '{}'`, [own.launch.id])]).toEqual([1, 0]);
    expect(await number("notice")).toBe(0);
  });
});
