import { launchesOf } from "../../src/server/launch/launchCache";
import fc from "fast-check";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { freePort, startChild, stopChild, waitFor } from "../../scripts/lib/run.mjs";
import { priceAt } from "../../src/core/launch";
import { inOrder, pathEnd, stepAfter, type Decision, type OfferPath } from "../../src/core/offers";
import { cardAccounts, httpCardProcessor } from "../../src/outside/cardProcessor";
import type { App } from "../../src/server/platform/app";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { settleCharge } from "../../src/server/payments/charging";
import { chooseAtCheckout, startCheckout } from "../../src/server/checkout/checkout";
import { payCheckout } from "../../src/server/checkout/paying";
import { savePath } from "../../src/server/offers/savePath";
import { applyCardNotice } from "../../src/server/payments/notices";
import { Charge, Order, OrderLine, Product } from "../../src/store/tables";
import {
  addStep,
  buy,
  buyer,
  cards,
  cardToken,
  deskCharges,
  openLaunch,
  decide,
  startWorld,
  until,
  visitor,
  withWorker,
  type World,
} from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());
const em = () => world.app.fork();

const behave = (change: { mood?: string; manner?: string }) =>
  fetch(`${world.settings["CARD_DESK_URL"]}/behave`, { method: "POST", body: new URLSearchParams(change), redirect: "manual" });
afterEach(() => behave({ mood: "well", manner: "in order" }));

const begun = async (context: LaunchContext, app: App = world.app) => {
  const [who, person] = [visitor(), buyer()];
  const { id } = await startCheckout(world.app, em(), context, person, who);
  const token = await cardToken(world);
  const pay = () => payCheckout(app, em(), context, { ...person, checkout: id, cardToken: token, waiver: "yes" as const }, who);
  return { id, pay };
};
/** One order, one successful charge at the desk, and books that are whole, for a checkout. */
const settledOnce = async (checkout: string) => {
  const orders = await em().find(Order, { checkoutId: checkout });
  expect(orders).toHaveLength(1);
  const keys = (await em().find(Charge, { checkoutId: checkout })).map(({ idempotencyKey }) => idempotencyKey);
  expect((await deskCharges(world)).filter(({ idempotency_key }) => keys.includes(idempotency_key))).toMatchObject([{ status: "succeeded" }]);
  const [books] = await em().execute<{ lines: string; payments: string; clearing: string }[]>(
    `select count(distinct n.id) as lines, count(distinct j.id) filter (where j.kind = 'payment') as payments,
       sum(x.minor) filter (where x.account = 'processor_clearing') as clearing
     from order_line n left join journal j on j.line_id = n.id left join posting x on x.journal_id = j.id where n.order_id = ?`,
    [orders[0]!.id],
  );
  expect(books).toEqual({ lines: "1", payments: "1", clearing: "14651" });
  const [emails] = await em().execute<{ n: string }[]>("select count(*) as n from email_message where data->>'orderId' = ?", [orders[0]!.id]);
  expect(Number(emails!.n)).toBe(1);
};

describe("a card processor", () => {
  it("that is down leaves the payment pending, shown as pending, and settles it when it is back", async () => {
    const context = await openLaunch(world, { offer: false });
    const { id, pay } = await begun(context);
    await behave({ mood: "down" });
    const charge = await pay();
    expect(charge.state).toBe("pending");
    await expect(settleCharge(world.app, charge.id)).rejects.toThrow("has not answered yet");
    await behave({ mood: "well" });
    await settleCharge(world.app, charge.id);
    await settledOnce(id);
  });
  it("whose answer is lost has charged once; pressed again, and settled by many at once, it stays one", async () => {
    const context = await openLaunch(world, { offer: false });
    const { id, pay } = await begun(context);
    await behave({ mood: "deaf" });
    const charge = await pay();
    expect(charge.state).toBe("pending");
    expect((await pay()).id).toBe(charge.id);
    await behave({ mood: "well" });
    await Promise.all(Array.from({ length: 6 }, () => settleCharge(world.app, charge.id)));
    await settledOnce(id);
  });
  it("that is slow is waited for, and a second press meanwhile charges nothing more", async () => {
    const context = await openLaunch(world, { offer: false });
    const { id, pay } = await begun(context);
    await behave({ mood: "slow" });
    await Promise.all([pay(), pay(), pay()]);
    await settledOnce(id);
  });
  it("that tells in any order, twice and late changes nothing that is settled", async () => {
    const context = await openLaunch(world, { offer: false });
    await fc.assert(
      fc.asyncProperty(
        fc.shuffledSubarray(["succeeded", "declined", "succeeded", "wrong amount", "declined"], { minLength: 3 }),
        async (notified) => {
          const { id, pay } = await begun(context);
          const { idempotencyKey, processorId } = await pay();
          const data = { id: processorId!, status: "succeeded", idempotency_key: idempotencyKey, amount: 14_900, currency: "EUR", fee: 249 };
          for (const what of notified) {
            if (what === "wrong amount")
              expect(await applyCardNotice(world.app, { type: "charge.succeeded", data: { ...data, amount: 1 } })).toContain("not applied");
            else await applyCardNotice(world.app, { type: `charge.${what}`, data: { ...data, status: what } });
          }
          await settledOnce(id);
        },
      ),
      { numRuns: 6 },
    );
  });
  it("whose notice is all that comes settles the payment by itself", async () => {
    const context = await openLaunch(world, { offer: false });
    const { id, pay } = await begun(context);
    await behave({ mood: "deaf" });
    const charge = await pay();
    const known = (await deskCharges(world)).find(({ idempotency_key }) => idempotency_key === charge.idempotencyKey)!;
    const notice = { type: "charge.succeeded", data: { ...known, fee: 249, currency: "EUR" } };
    await Promise.all([1, 2, 3].map(() => applyCardNotice(world.app, notice)));
    await settledOnce(id);
  });
});

describe("a second account", () => {
  it("takes the payments of its currencies, and the first knows nothing of them", async () => {
    const port = await freePort();
    const [key, secret] = ["a-key-for-dollars", `whsec_${Buffer.from("a secret for dollars only, 32 by.").toString("base64")}`];
    const child = startChild(process.execPath, ["--import", "tsx", "standins/card-desk/main.ts"], {
      env: {
        ...process.env,
        ...world.settings,
        PORT: String(port),
        CARD_DESK_KEY: key,
        CARD_DESK_NOTICE_SECRET: secret,
        CARD_DESK_NAME: "dollars",
        DATA: mkdtempSync(join(tmpdir(), "ink-bell-")),
        NOTICE_URL: "http://127.0.0.1:9/none",
      },
    });
    try {
      await waitFor(`http://127.0.0.1:${port}/healthz`);
      const dollars = httpCardProcessor(`http://127.0.0.1:${port}`, key);
      const euros = world.app.cards.for({ currency: "EUR", test: false });
      const app = { ...world.app, cards: cardAccounts(euros, euros, [{ currencies: ["USD"], processor: dollars }]) };
      const context = await openLaunch(world, { offer: false });
      await em().nativeUpdate(Product, { id: context.product.id }, { prices: { USD: 16_900 } });
      launchesOf(world.app).clear();
      const priced = (await launchesOf(world.app).bySlug(context.launch.slug))!;
      const [who, person] = [visitor(), buyer()];
      const { id } = await startCheckout(app, em(), priced, person, who);
      await chooseAtCheckout(app, em(), priced, { checkout: id, currency: "USD" }, who);
      // The field of the other account makes the token.
      const made = await fetch(`http://127.0.0.1:${port}/field/tokens`, {
        method: "POST",
        body: JSON.stringify({ number: cards.good, expiry: "12/39", cvc: "123" }),
      });
      const { token } = (await made.json()) as { token: string };
      const charge = await payCheckout(app, em(), priced, { ...person, checkout: id, cardToken: token, waiver: "yes" }, who);
      expect(charge).toMatchObject({ state: "succeeded", currency: "USD", amountMinor: 16_900 });
      expect((await dollars.chargeById(charge.processorId!)).amount).toBe(16_900);
      expect((await deskCharges(world)).some(({ idempotency_key }) => idempotency_key === charge.idempotencyKey)).toBe(false);
    } finally {
      await stopChild(child);
    }
  });
});

describe("a process that dies", () => {
  // Every table that a payment writes to, and the moments around the processor's call.
  const tables = ["sale_order", "order_line", "journal", "posting", "email_message", "event", "stage_rollup"];
  it.each(tables)("while it writes to %s leaves nothing half, and the payment is finished once", async (table) => {
    const context = await openLaunch(world, { offer: false });
    const { id, pay } = await begun(context);
    await em().execute(`create or replace function dies() returns trigger language plpgsql as $$ begin
      if exists (select from charge where state = 'succeeded' and checkout_id = '${id}') then raise exception 'the process died'; end if; return new; end $$`);
    await em().execute(`create trigger dies before insert on ${table} for each row execute function dies()`);
    try {
      await expect(pay()).rejects.toThrow("the process died");
    } finally {
      await em().execute(`drop trigger dies on ${table}`);
    }
    expect(await em().count(Order, { checkoutId: id })).toBe(0);
    const [charge] = await em().find(Charge, { checkoutId: id });
    expect(charge!.state).toBe("pending");
    await settleCharge(world.app, charge!.id);
    await settledOnce(id);
  });
  it("right after an offer was charged books it once, and the buyer goes on", async () => {
    const context = await openLaunch(world);
    const { order } = await buy(world, context);
    const step = context.savedPath.path.steps[0]!.id;
    const lost = {
      ...world.app,
      cards: {
        fieldUrls: [],
        for: (of: Parameters<App["cards"]["for"]>[0]) => {
          const real = world.app.cards.for(of);
          return {
            ...real,
            charge: (...asked: Parameters<typeof real.charge>) => real.charge(...asked).then(() => Promise.reject(new Error("died"))),
          };
        },
      },
    };
    await expect(decide({ ...world, app: lost }, context, order!.id, step, "yes")).rejects.toThrow("died");
    await withWorker(world, async () => {
      await world.app.clock.setTo(em(), new Date(world.app.clock.now().getTime() + 25_000));
      await until(async () => (await em().count(OrderLine, { orderId: order!.id, role: "offer" })) === 1, 20);
    });
    expect((await deskCharges(world)).filter(({ idempotency_key }) => idempotency_key.startsWith(`offer:${order!.id}`))).toHaveLength(1);
  });
});

describe("a price that rises by sales", () => {
  it("follows its formula under any rush of buyers: each pays what stood when it was held for them", async () => {
    const rising = { every: 3, stepMinor: 1_000, capMinor: 16_900 };
    const context = await openLaunch(world, { offer: false, settings: { rising } });
    const paid: number[] = [];
    for (const rush of [5, 1, 7, 4]) {
      const buyers = await Promise.all(Array.from({ length: rush }, () => begun(context)));
      const due = priceAt(context.plan, world.app.clock.now(), { sold: paid.length }).minor;
      const charges = await Promise.all(buyers.map(({ pay }) => pay()));
      for (const { state, amountMinor } of charges) expect([state, amountMinor]).toEqual(["succeeded", due]);
      paid.push(...charges.map(({ amountMinor }) => amountMinor));
    }
    // 5 sold are one step, 6 are two, and from then on the cap holds.
    expect([...new Set(paid)]).toEqual([14_900, 15_900, 16_900]);
    expect(paid).toHaveLength(17);
  });
});

describe("any path of offers", () => {
  it("charges each accepted step once and no other, whatever is pressed, reloaded and gone back to", async () => {
    let context = await openLaunch(world);
    for (const n of [1, 2, 3, 4]) {
      context = await addStep(world, context.launch.slug, {
        product: { name: `Offer ${n}`, price: `${10 + n}.00` },
        page: { template: "offer-bill" },
      });
    }
    await em().execute(
      "update page set published = draft, compiled = (select compiled from page p where p.launch_id = page.launch_id and p.compiled is not null limit 1) where launch_id = ? and kind = 'offer'",
      [context.launch.id],
    );
    const parts = context.savedPath.path.steps;
    const ids = parts.map(({ id }) => id);
    // Rails lead only to later steps or to the end: any path without circles, as the desk's moves can lay it.
    const anyPath = fc
      .tuple(...ids.map((_, at) => fc.tuple(...[1, 2].map(() => fc.integer({ min: at + 1, max: ids.length })))))
      .map((rails): OfferPath => {
        const target = (n: number) => ids[n] ?? pathEnd;
        return { first: ids[0]!, steps: parts.map((part, at) => ({ ...part, yesTo: target(rails[at]![0]!), noTo: target(rails[at]![1]!) })) };
      });
    const presses = fc.array(
      fc.record({
        at: fc.integer({ min: 0, max: ids.length - 1 }),
        decision: fc.constantFrom<Decision>("yes", "no"),
        times: fc.integer({ min: 1, max: 3 }),
      }),
      { minLength: 3, maxLength: 14 },
    );
    await fc.assert(
      fc.asyncProperty(anyPath, presses, async (path, pressed) => {
        expect(inOrder(path)).toBeDefined();
        await em().transactional((tx) => savePath(tx, context.launch.id, path, { what: "Any", userId: null, now: world.app.clock.now() }));
        launchesOf(world.app).clear();
        const savedPath = (await launchesOf(world.app).bySlug(context.launch.slug))!;
        const { order } = await buy(world, savedPath);
        const answers = new Map<string, Decision>();
        for (const { at, decision, times } of pressed) {
          if (stepAfter(path, answers) === ids[at]) answers.set(ids[at], decision);
          await Promise.all(Array.from({ length: times }, () => decide(world, savedPath, order!.id, ids[at]!, decision)));
        }
        const yes = [...answers].filter(([, decision]) => decision === "yes").map(([id]) => id);
        const lines = await em().find(OrderLine, { orderId: order!.id });
        expect(lines.flatMap(({ stepId }) => stepId ?? []).sort()).toEqual([...yes].sort());
        const charged = (await deskCharges(world)).filter(({ idempotency_key }) => idempotency_key.startsWith(`offer:${order!.id}:`));
        expect(charged).toHaveLength(yes.length);
        // Totals are the sum of their parts.
        expect(charged.reduce((sum, { amount }) => sum + amount, 14_900)).toBe(lines.reduce((sum, { grossMinor }) => sum + grossMinor, 0));
      }),
      { numRuns: 8 },
    );
  });
});
