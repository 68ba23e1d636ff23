import { randomUUID } from "node:crypto";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { receiveNotice } from "../../src/server/platform/http/notices";
import { Refusal } from "../../src/server/platform/refusal";
import { acceptTerms, beginTestOrder, listingView, setPicture, setRefundDays, submitListing } from "../../src/server/markets/listing";
import { applyMarketNotice } from "../../src/server/markets/notices";
import { applyCardNotice } from "../../src/server/payments/notices";
import { startCheckout } from "../../src/server/checkout/checkout";
import { payCheckout } from "../../src/server/checkout/paying";
import { Charge, Listing, Order } from "../../src/store/tables";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import { orderPostings } from "../../src/store/money/orderPostings";
import { signedHeaders } from "../../standins/shared/notices";
import { advance, buy, buyer, cardToken, openLaunch, startWorld, visitor, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
});
afterAll(() => world.stop());

const message = () => `msg_${randomUUID()}`;
const deliver = async (source: "market" | "card-desk", type: string, data: unknown, id = message(), secretOf: string = source, ageSeconds = 0) => {
  const body = JSON.stringify({ type, data });
  const secrets: Record<string, string> = { market: world.app.config.MARKET_NOTICE_SECRET, "card-desk": world.app.config.CARD_DESK_NOTICE_SECRET };
  const headers = new Headers(signedHeaders(secrets[secretOf]!, id, Math.floor(Date.now() / 1000) - ageSeconds, body));
  return receiveNotice(world.app, source, secrets[source]!, headers, body, source === "market" ? applyMarketNotice : applyCardNotice);
};
const picture = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: "#1E4E79" } })
    .png()
    .toBuffer();
const rules = async () =>
  Object.fromEntries((await listingView(world.app, world.app.fork(), context)).rules.map(({ rule, status }) => [rule, status]));
const code = (work: Promise<unknown>) =>
  work.then(
    () => "none",
    (error: unknown) => (error instanceof Refusal ? error.code : String(error)),
  );
const listingOf = () => world.app.fork().findOneOrFail(Listing, { launchId: context.launch.id });

describe("a listing", () => {
  it("starts as a draft that says what is missing, and is refused until it is mended", async () => {
    expect(await rules()).toEqual({ picture: "not_met", refund_window: "met", terms: "not_met", test_order: "not_met" });
    expect(await code(submitListing(world.app, world.app.fork(), world.owner, context))).toBe("gaps_open");
  });

  it("takes a picture, re-encoded, and refuses what is none", async () => {
    const refused = await setPicture(world.app, world.app.fork(), world.owner, context, Buffer.from("<svg/>")).catch((error: Refusal) => error);
    expect((refused as Refusal).faults).toEqual({ picture: { code: "file", why: "listing_picture" } });
    await setPicture(world.app, world.app.fork(), world.owner, context, await picture(300, 200));
    expect((await rules())["picture"]).toBe("not_met");
    await setPicture(world.app, world.app.fork(), world.owner, context, await picture(900, 600));
    expect((await rules())["picture"]).toBe("met");
  });

  it("holds the refund window against the marketplace's", async () => {
    await setRefundDays(world.app.fork(), world.owner, context, 60);
    context = (await loadLaunch(world.app.fork(), { id: context.launch.id }))!;
    expect((await rules())["refund_window"]).toBe("not_met");
    await setRefundDays(world.app.fork(), world.owner, context, 30);
    context = (await loadLaunch(world.app.fork(), { id: context.launch.id }))!;
  });

  it("may be changed by the owner or an editor, its terms accepted by the owner alone", async () => {
    const viewer = { ...world.owner, role: "viewer" as const };
    const editor = { ...world.owner, role: "editor" as const };
    expect(await code(setRefundDays(world.app.fork(), viewer, context, 20))).toBe("not_allowed");
    expect(await code(acceptTerms(world.app, world.app.fork(), editor, context))).toBe("not_allowed");
    await acceptTerms(world.app, world.app.fork(), world.owner, context);
    expect((await rules())["terms"]).toBe("met");
  });

  it("names the launch's own sales page, wherever that stands, and its first page where it has none", async () => {
    const named = async (pages: LaunchContext["pages"]) => {
      const { market } = world.app;
      const drafts = vi.spyOn(market, "saveDraft");
      await beginTestOrder(world.app, world.app.fork(), world.owner, { ...context, pages });
      const address = drafts.mock.calls.at(-1)![0].salesPage;
      drafts.mockRestore();
      return address.replace(`${world.app.config.origin}/l/${context.launch.slug}`, "");
    };
    const elsewhere = context.pages.map((page) => (page.kind === "sales" ? (Object.create(page, { slug: { value: "buy" } }) as typeof page) : page));
    expect(await named(context.pages)).toBe("/join");
    expect(await named(elsewhere)).toBe("/buy");
    expect(await named(context.pages.filter(({ kind }) => kind !== "sales"))).toBe("");
  });

  it("is tested at the marketplace's till, submitted, and live with its order link", async () => {
    const till = await beginTestOrder(world.app, world.app.fork(), world.owner, context);
    const form = new URLSearchParams({ email: "owner@test.example", first_name: "Owner", country: "PT", card: "9990000000000003" });
    expect((await fetch(till, { method: "POST", body: form })).status).toBe(200);
    const external = (await listingOf()).externalId!;
    await deliver("market", "test_order.created", { listing: external, order: "test-1" });
    expect(Object.values(await rules())).toEqual(["met", "met", "met", "met"]);
    await submitListing(world.app, world.app.fork(), world.owner, context);
    expect(await code(submitListing(world.app, world.app.fork(), world.owner, context))).toBe("already_submitted");
    expect(await code(setPicture(world.app, world.app.fork(), world.owner, context, await picture(900, 600)))).toBe("wrong_state");
    await deliver("market", "listing.returned", { listing: external, reasons: ["Say for whom it is."] });
    expect(await listingOf()).toMatchObject({ state: "returned", reasons: ["Say for whom it is."] });
    await submitListing(world.app, world.app.fork(), world.owner, context);
    await deliver("market", "listing.approved", { listing: external, order_link: "https://market.example/order/1" });
    expect(await listingOf()).toMatchObject({ state: "live", orderLink: "https://market.example/order/1", reasons: null });
    // A late notice of the earlier return does not take it down again.
    expect((await deliver("market", "listing.returned", { listing: external, reasons: ["late"] })).outcome).toContain("not changed");
    expect((await listingOf()).state).toBe("live");
  });
});

describe("a sale at the marketplace", () => {
  const sale = async (change: Record<string, unknown> = {}) => ({
    listing: (await listingOf()).externalId,
    sale: `SW-${randomUUID()}`,
    net: 14_900,
    tax: 3_427,
    fee: 1_177,
    currency: "EUR",
    rate_bp: 2_300,
    buyer: { email: buyer().email, first_name: "Bea", country: "PT" },
    ...change,
  });

  it("becomes an order, the receivable and the fee, and no tax of ours", async () => {
    const data = await sale();
    expect((await deliver("market", "sale.created", data)).outcome).toBe("sale booked");
    const order = await world.app.fork().findOneOrFail(Order, { externalId: data.sale });
    const postings = await orderPostings(world.app.fork(), order.id);
    expect(Object.fromEntries(postings.map(({ account, minor }) => [account, minor]))).toEqual({
      marketplace_receivable: 13_723,
      marketplace_fees: 1_177,
      sales: -14_900,
    });
  });
  it("told twice, under the same message or another, changes nothing the second time", async () => {
    const data = await sale();
    const id = message();
    await Promise.all([deliver("market", "sale.created", data, id), deliver("market", "sale.created", data, id)]);
    expect((await deliver("market", "sale.created", data, id)).repeated).toBe(true);
    expect((await deliver("market", "sale.created", data)).outcome).toBe("sale known already");
    expect(await world.app.fork().count(Order, { externalId: data.sale })).toBe(1);
  });
  it("that is forged is refused, and leaves nothing behind", async () => {
    const data = await sale();
    const id = message();
    expect(await code(deliver("market", "sale.created", data, id, "card-desk"))).toBe("bad_signature");
    expect(await world.app.fork().count(Order, { externalId: data.sale })).toBe(0);
    expect(await world.app.fork().execute("select 1 from notice where message_id = ?", [id])).toEqual([]);
  });
  it("of an unknown listing, in another currency, or not understood, is kept but books nothing", async () => {
    expect((await deliver("market", "sale.created", await sale({ listing: "other" }))).outcome).toBe("no such listing");
    expect((await deliver("market", "sale.created", await sale({ currency: "USD" }))).outcome).toContain("currency differs");
    expect((await deliver("market", "sale.created", await sale({ net: -5 }))).outcome).toBe("not understood");
    expect((await deliver("market", "party.started", {})).outcome).toBe("not understood");
  });
});

describe("a notice of the card processor", () => {
  it("finishes a charge whose answer was lost, once", async () => {
    const [who, person] = [visitor(), buyer()];
    const checkout = await startCheckout(world.app, world.app.fork(), context, person, who);
    const lost = { ...world.app, cards: { ...world.app.cards, charge: () => Promise.reject(new Error("gone")) } };
    const request = { ...person, checkout: checkout.id, cardToken: await cardToken(world), waiver: "yes" as const };
    await payCheckout(lost, world.app.fork(), context, request, who).catch(() => undefined);
    const charge = await world.app.fork().findOneOrFail(Charge, { checkoutId: checkout.id });
    const result = await world.app.cards
      .for({ currency: "EUR", test: false })
      .charge(
        { card: charge.card, amount: charge.amountMinor, currency: charge.currency, description: "x", returnUrl: charge.returnUrl, capture: true },
        charge.idempotencyKey,
      );
    await Promise.all([deliver("card-desk", "charge.succeeded", result), deliver("card-desk", "charge.succeeded", result)]);
    expect(await world.app.fork().count(Order, { checkoutId: checkout.id })).toBe(1);
  });
  it("with another amount is not applied, and a refusal after success changes nothing", async () => {
    const { charge, order } = await buy(world, context);
    const result = {
      id: charge.processorId,
      status: "declined",
      idempotency_key: charge.idempotencyKey,
      amount: charge.amountMinor,
      currency: "EUR",
    };
    expect((await deliver("card-desk", "charge.declined", { ...result, amount: 1 })).outcome).toContain("amount differs");
    expect((await deliver("card-desk", "charge.declined", result)).outcome).toBe("changed nothing: the charge is succeeded");
    expect((await world.app.fork().findOneOrFail(Charge, { id: charge.id })).state).toBe("succeeded");
    expect(order).not.toBeNull();
    expect((await deliver("card-desk", "charge.succeeded", { ...result, status: "succeeded", idempotency_key: "none" })).outcome).toBe(
      "no such charge",
    );
  });
  it("whose time is off is told to be stale, which is another thing than wrongly signed; the app's own clock has no part in it", async () => {
    const { charge } = await buy(world, context);
    const tell = (ageSeconds: number, secretOf = "card-desk") =>
      deliver("card-desk", "charge.succeeded", { id: charge.processorId }, message(), secretOf, ageSeconds);
    for (const age of [400, -400]) expect(await code(tell(age))).toBe("stale_notice");
    expect(await code(tell(0, "market"))).toBe("bad_signature");
    expect(await code(tell(400, "market"))).not.toBe("none");
    await advance(world, 60 * 24 * 30);
    expect((await tell(0)).outcome).toBe("not understood");
    expect(await code(tell(400))).toBe("stale_notice");
    const received = await world.app.fork().execute<{ at: string }[]>("select max(received_at) as at from notice");
    // What follows from it goes by the app's clock.
    expect(Math.abs(new Date(received[0]!.at).getTime() - world.app.clock.now().getTime())).toBeLessThan(60_000);
    await advance(world, -60 * 24 * 30);
  });
  it("twenty at once, each for a payment of its own, wait for nobody's connection", async () => {
    const sales = await Promise.all(Array.from({ length: 24 }, () => buy(world, context)));
    const notified = await Promise.all(
      sales.map(({ charge }) =>
        deliver("card-desk", "charge.succeeded", {
          id: charge.processorId,
          status: "succeeded",
          idempotency_key: charge.idempotencyKey,
          amount: charge.amountMinor,
          currency: "EUR",
        }),
      ),
    );
    expect(new Set(notified.map(({ outcome }) => outcome))).toEqual(new Set(["changed nothing: the charge is succeeded"]));
  });
});

describe("an address that a marketplace names", () => {
  it("is one of the web, or is not taken", async () => {
    for (const order_link of ["javascript:alert(1)", "data:text/html,x", "file:///etc/passwd", "not an address"])
      expect((await deliver("market", "listing.approved", { listing: "x", order_link })).outcome).toBe("not understood");
    expect((await deliver("market", "listing.approved", { listing: "x", order_link: "https://market.example/1" })).outcome).toBe("no such listing");
  });
});
