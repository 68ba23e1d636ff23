import { EventLog } from "../../src/server/platform/eventLog";
import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { readEvent } from "../../src/core/events";
import { orderHref } from "../../src/server/checkout/offerPath";
import { refundOrder } from "../../src/server/payments/refunds";
import { answerPage } from "../../src/server/site/answer";
import { lookOf } from "../../src/server/platform/http/publicRequest";
import { writeEvents } from "../../src/store/events/writeEvents";
import { optIn } from "../../src/server/people/optIn";
import { OrderLine } from "../../src/store/tables";
import { ensureEventPartitions } from "../../src/store/events/partitions";
import { stageFunnel } from "../../src/store/leaks/stageFunnel";
import { buy, buyer, cards, decide, look, openLaunch, sentBy, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();

describe("the event log", () => {
  it("says who did what in which browser, with what belongs to it, also after two browsers turn out to be one person's", async () => {
    const own = await openLaunch(world);
    const [phone, desk] = [visitor(), visitor()];
    const person = buyer();
    const now = world.app.clock.now();
    await look(world, own, "join", phone.visitorId, { utm_source: "guild" });
    await world.app.events.flush();
    await optIn(em(), own, { email: person.email, firstName: "Ada", answers: {} }, sentBy(phone.visitorId, now));
    const { order } = await buy(world, own, desk, person);
    const rows = await em().execute<{ kind: string; visitor_id: string; person_id: string; data: unknown }[]>(
      "select kind, visitor_id, person_id, data from event where launch_id = ? order by array_position(array['saw_sales', 'opted_in', 'began_checkout', 'paid'], kind)",
      [own.launch.id],
    );
    expect(rows.map(({ kind, visitor_id }) => [kind, visitor_id])).toEqual([
      ["saw_sales", phone.visitorId],
      ["opted_in", phone.visitorId],
      ["began_checkout", desk.visitorId],
      ["paid", desk.visitorId],
    ]);
    expect(new Set(rows.map(({ person_id }) => person_id)).size).toBe(1);
    expect(rows.map(({ kind, data }) => readEvent(kind, data)?.data)).toEqual([
      { variant: "A", source: "guild" },
      { form: "form" },
      { checkout: order!.checkoutId, product: own.product.id },
      { order: order!.id, amountMinor: 14_900, currency: "EUR", products: [own.product.id] },
    ]);
  });
  it("says what became of a sale: a card that was refused, offers taken and left, money given back", async () => {
    const own = await openLaunch(world);
    const [who, person] = [visitor(), buyer()];
    await buy(world, own, who, person, cards.poor);
    const { order, charge } = await buy(world, own, who, person);
    const [step] = own.steps;
    await decide(world, own, order!.id, step!.id, "yes");
    const front = await em().findOneOrFail(OrderLine, { orderId: order!.id, role: "front" });
    const back = { act: randomUUID(), lines: { [front.id]: "10.00" }, amount: "", reason: "" };
    await refundOrder(world.app, em(), world.owner, order!.id, back);
    const left = await buy(world, own);
    await decide(world, own, left.order!.id, step!.id, "no");
    const happened = async (orderId: string, personId: string) =>
      (
        await world.app
          .fork()
          .execute<{ kind: string; page: string; data: Record<string, unknown> }[]>(
            "select kind, page, data from event where launch_id = ? and person_id = ? and kind not in ('began_checkout', 'paid') order by array_position(array['payment_refused', 'offer_accepted', 'offer_declined', 'refunded'], kind)",
            [own.launch.id, personId],
          )
      ).map(({ kind, page, data }) => [kind, page, { ...readEvent(kind, data)!.data, order: data["order"] === orderId }]);
    const offer = { step: step!.id, order: true };
    expect(await happened(order!.id, order!.personId)).toEqual([
      [
        "payment_refused",
        "checkout",
        { checkout: charge.checkoutId, amountMinor: 14_900, currency: "EUR", code: "insufficient_funds", order: false },
      ],
      ["offer_accepted", step!.page.key, { ...offer, amountMinor: step!.product.priceMinor, currency: "EUR", products: [step!.productId] }],
      ["refunded", "desk", { amountMinor: 1_000, currency: "EUR", order: true }],
    ]);
    expect(await happened(left.order!.id, left.order!.personId)).toEqual([
      ["offer_declined", step!.page.key, { ...offer, product: step!.productId }],
    ]);
    // What comes after the purchase is no stage: the first visit stays the first.
    const [row] = await em().execute<{ visited: string; paid: string }[]>(
      "select visited, paid from stage_rollup where launch_id = ? and person_id = ?",
      [own.launch.id, order!.personId],
    );
    expect(new Date(row!.paid).getTime()).toBeGreaterThanOrEqual(new Date(row!.visited).getTime());
  });
  it("says which offers were shown and which codes were tried, and passes over programs and pages fetched ahead", async () => {
    const own = await openLaunch(world);
    const { order } = await buy(world, own);
    const link = await orderHref(world.app, em(), own, order!, 1);
    const { pathname, searchParams } = new URL(link, "http://shop.example");
    const asked = { slug: own.launch.slug, path: pathname.split("/").at(-1)!, query: searchParams, visitorId: randomUUID() };
    const phone =
      "Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.0 Mobile/15E148 Safari/604.1";
    await answerPage(world.app, { ...asked, ...lookOf("GET", null, phone) });
    await answerPage(world.app, { ...asked, ...lookOf("GET", null, "Examplebot/2.1 (+http://search.example/bot)") });
    await answerPage(world.app, { ...asked, ...lookOf("GET", "prefetch;prerender", phone) });
    await answerPage(world.app, { ...asked, ...lookOf("HEAD", null, phone) });
    for (const [purpose, agent] of [
      [null, phone],
      ["prefetch", phone],
      [null, "Examplebot/2.1"],
    ] as const)
      await answerPage(world.app, { ...asked, path: "join", query: new URLSearchParams("utm_medium=email"), ...lookOf("GET", purpose, agent) });
    await answerPage(world.app, { ...asked, path: "join", query: new URLSearchParams("coupon=never") });
    await world.app.events.flush();
    const rows = await em().execute<{ kind: string; person_id: string; data: object }[]>(
      "select kind, person_id, data from event where launch_id = ? and kind in ('offered', 'saw_sales', 'coupon_tried') order by 1",
      [own.launch.id],
    );
    const [step] = own.steps;
    expect(rows).toEqual([
      { kind: "coupon_tried", person_id: asked.visitorId, data: { code: "NEVER", taken: false } },
      // An offer is shown to whose order it is, in whatever browser.
      { kind: "offered", person_id: order!.personId, data: { order: order!.id, step: step!.id, product: step!.productId } },
      { kind: "saw_sales", person_id: asked.visitorId, data: { variant: "A", device: "phone", medium: "email" } },
    ]);
  });
  it("leaves out an event that the database can never take, and keeps all others", async () => {
    const own = await openLaunch(world);
    const event = (page: string) => ({ launchId: own.launch.id, visitorId: randomUUID(), kind: "visited" as const, at: world.app.clock.now(), page });
    for (const page of ["optin", "optin", "spoilt\u0000", "optin"]) world.app.events.add({ ...event(page), data: { variant: "A" } });
    await world.app.events.flush();
    expect((await stageFunnel(em(), { launchId: own.launch.id, now: world.app.clock.now() })).visited).toBe(3);
  });
  it("counts a view once, also where it cannot be noted which checkout was looked at", async () => {
    const own = await openLaunch(world);
    let forks = 0;
    const away = Object.assign(em(), { execute: () => Promise.reject(new Error("the database is away")) });
    const log = new EventLog(() => ((forks += 1) === 1 ? em() : away), world.app.log);
    log.add({
      launchId: own.launch.id,
      visitorId: randomUUID(),
      kind: "visited",
      at: world.app.clock.now(),
      page: "checkout",
      data: { variant: "A" },
    });
    await log.flush();
    await log.stop();
    const [row] = await em().execute<{ n: string }[]>("select count(*) as n from event where launch_id = ?", [own.launch.id]);
    expect([Number(row!.n), forks]).toEqual([1, 2]);
  });
  it("is kept in weekly parts, and what came before its part was made is moved into it", async () => {
    const own = await openLaunch(world);
    const at = new Date("2031-05-14T12:00:00Z");
    await writeEvents(em(), [{ launchId: own.launch.id, visitorId: randomUUID(), kind: "visited", at, page: "optin", data: { variant: "A" } }]);
    const partOf = async () =>
      (await em().execute<{ part: string }[]>("select tableoid::regclass::text as part from event where launch_id = ?", [own.launch.id]))[0]!.part;
    expect(await partOf()).toBe("event_rest");
    expect(await ensureEventPartitions(em(), at, new Date(at.getTime() + 7 * 86_400_000))).toEqual(["event_2031_05_12", "event_2031_05_19"]);
    expect(await partOf()).toBe("event_2031_05_12");
    expect(await ensureEventPartitions(em(), at, at)).toEqual([]);
  });
});
