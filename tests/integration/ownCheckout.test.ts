import { launchesOf } from "../../src/server/launch/launchCache";
import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { builder, idsFrom, pageOf } from "../../src/core/pages";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { makeBumpProduct } from "../../src/server/products/products";
import { answerPage } from "../../src/server/site/answer";
import type { PublicAnswer } from "../../src/server/platform/http/publicRequest";
import { submitForm } from "../../src/server/site/submit";
import { Charge, Checkout, Order, OrderLine, Page, Product } from "../../src/store/tables";
import { advance, buyer, cards, cardToken, openLaunch, publishAs, startWorld, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());
const em = () => world.app.fork();
const b = builder(idsFrom("b"));

/** A browser with a cookie of its own, which goes where it is led. */
const browser = (context: LaunchContext, acceptLanguage = "pt-PT") => {
  const visitorId = randomUUID();
  const { slug } = context.launch;
  const get = async (path: string, query: Record<string, string> = {}): Promise<PublicAnswer & { at: string }> => {
    const answer = await answerPage(world.app, { slug, path, query: new URLSearchParams(query), visitorId, acceptLanguage });
    const to = answer.headers["location"];
    if (answer.status !== 303 || !to?.startsWith(`/l/${slug}`)) return { ...answer, at: path };
    const next = new URL(to, "http://x");
    return get(next.pathname.split("/").slice(3).join("/"), Object.fromEntries(next.searchParams));
  };
  const post = (action: string, values: Record<string, string>) =>
    submitForm(world.app, { slug, action, values, visitorId, acceptLanguage, from: visitorId });
  const follow = async (answer: PublicAnswer) => {
    expect(answer.status).toBe(303);
    const to = new URL(answer.headers["location"]!, "http://x");
    return get(to.pathname.split("/").slice(3).join("/"), Object.fromEntries(to.searchParams));
  };
  const value = (body: string, name: string) => new RegExp(`name="${name}" value="([^"]*)"`).exec(body)![1]!;
  const pay = async (person: ReturnType<typeof buyer>, query: Record<string, string> = {}, card = cards.good) => {
    const { body } = await get("checkout", query);
    return post("pay", {
      ...person,
      checkout: value(body, "checkout"),
      shown: value(body, "shown"),
      cardToken: await cardToken(world, card),
      waiver: "yes",
    });
  };
  return { visitorId, get, post, follow, pay, value };
};
const ordersOf = (visitorId: string) =>
  em().execute<{ id: string; lines: string; gross: string; path: number }[]>(
    `select s.id, s.path_version as path, string_agg(n.role || ' ' || n.name, ', ' order by n.role) as lines, sum(n.gross_minor) as gross from sale_order s
     join checkout k on k.id = s.checkout_id join order_line n on n.order_id = s.id where k.visitor_id = ? group by s.id order by s.placed_at`,
    [visitorId],
  );

describe("an offer's page", () => {
  it("come to without an order, opens the checkout of that offer alone, and ends on the thank-you page", async () => {
    const context = await openLaunch(world);
    const ada = browser(context);
    const start = await ada.get("offer");
    expect(start.at).toBe("checkout");
    expect(start.body).toContain("The Library");
    const person = buyer();
    const form = { of: ada.value(start.body, "of"), ...person };
    const begun = await ada.post("start", form);
    expect((await ada.follow(begun)).body).toContain("€67.00");
    // Whoever leaves it finds the launch's own checkout as it always was.
    expect((await ada.get("checkout")).body).not.toContain("€67.00");
    expect((await ada.get("checkout")).body).toContain(`value="${person.email}"`);
    const end = await ada.follow(await ada.pay(person, { of: "offer" }));
    expect(end.body).toContain("Receipt, order");
    expect(await ordersOf(ada.visitorId)).toMatchObject([{ lines: "offer The Library", gross: "6700", path: 0 }]);
  });
  it("with an order whose link has expired fills its buyer in, who pays with the card that is known", async () => {
    const context = await openLaunch(world);
    const ada = browser(context);
    const person = buyer();
    await ada.post("start", person);
    expect((await ada.follow(await ada.pay(person))).at).toBe("offer");
    const start = await ada.get("offer", { o: "expired" });
    expect(start.at).toBe("checkout");
    expect(start.body).toContain(`value="${person.email}"`);
    await ada.post("start", { of: "offer", ...person });
    const form = (await ada.get("checkout", { of: "offer" })).body;
    expect(form).toContain("with the card ending in 0003");
    const paid = await ada.post("pay", {
      ...person,
      checkout: ada.value(form, "checkout"),
      shown: ada.value(form, "shown"),
      cardToken: "",
      stored: "yes",
      waiver: "yes",
    });
    expect((await ada.follow(paid)).body).toContain("Receipt, order");
    expect((await ordersOf(ada.visitorId)).map(({ lines }) => lines)).toEqual(["front The Workshop", "offer The Library"]);
  });
  it("never lets somebody else's browser pay with a stored card", async () => {
    const context = await openLaunch(world, { offer: false });
    const [ada, mallory] = [browser(context), browser(context)];
    const person = buyer();
    await ada.post("start", person);
    await ada.follow(await ada.pay(person));
    await mallory.post("start", person);
    const form = (await mallory.get("checkout")).body;
    expect(form).not.toContain("ending in");
    const refused = await mallory.post("pay", {
      ...person,
      checkout: mallory.value(form, "checkout"),
      cardToken: "",
      stored: "yes",
      waiver: "yes",
    });
    expect(refused.status).toBe(422);
    expect(refused.body).toContain("Fill in the card first.");
    expect(await ordersOf(mallory.visitorId)).toEqual([]);
  });
  it("whose card is refused asks for another, which pays and is stored from then on", async () => {
    const context = await openLaunch(world);
    const ada = browser(context);
    const person = buyer();
    await ada.post("start", person);
    const offer = await ada.follow(await ada.pay(person, {}, "9990000000000078"));
    const asked = { o: ada.value(offer.body, "o"), step: ada.value(offer.body, "step"), decision: "yes" };
    const again = await ada.follow(await ada.post("decide", asked));
    expect(again.at).toBe("offer");
    expect(again.body).toContain("there is not enough on this card");
    expect(again.body).toContain("<iframe");
    const wrong = await ada.post("decide", { ...asked, cardToken: "" });
    expect(wrong.status).toBe(422);
    expect(wrong.body).toContain("Fill in the card first.");
    const end = await ada.follow(await ada.post("decide", { ...asked, sure: "yes", cardToken: await cardToken(world) }));
    expect(end.body).toContain("Receipt, order");
    const [order] = await ordersOf(ada.visitorId);
    expect(order).toMatchObject({ lines: "front The Workshop, offer The Library" });
    expect(await em().findOneOrFail(Order, { id: order!.id })).toMatchObject({ cardLast4: "0003" });
  });
  it("takes a price that comes again, says so before the press, and keeps what was agreed to", async () => {
    const context = await openLaunch(world);
    const library = context.steps[0]!.product;
    const terms = { kind: "subscription" as const, every: { unit: "month" as const, n: 1 }, trialDays: 14, setup: 0, times: null };
    await em().nativeUpdate(Product, { id: library.id }, { terms });
    launchesOf(world.app).clear();
    const ada = browser(context);
    const person = buyer();
    await ada.post("start", person);
    const offer = await ada.follow(await ada.pay(person));
    expect(offer.body).toContain("Then €67.00 every month, until you cancel");
    const asked = { o: ada.value(offer.body, "o"), step: ada.value(offer.body, "step"), decision: "yes" };
    const end = await ada.follow(await ada.post("decide", asked));
    expect(end.body).toContain("Cancel these payments");
    const ended = await ada.follow(await ada.post("end", { o: asked.o, recurringPayment: ada.value(end.body, "recurringPayment") }));
    expect(ended.body).toContain("no further payment is taken");
    const stranger = browser(context);
    expect((await stranger.post("end", { o: "forged", recurringPayment: ada.value(end.body, "recurringPayment") })).status).toBe(403);
  });
});

describe("an offer in a page", () => {
  it("before the payment is added to the order, once however often it is pressed", async () => {
    const first = await openLaunch(world, { offer: false });
    const page = await em().findOneOrFail(Page, { launchId: first.launch.id, kind: "checkout" });
    const { id } = await makeBumpProduct(em(), world.owner, page.id, { name: "The Needles", price: "25.00" }, world.app.clock.now());
    const context = await publishAs(
      world,
      first,
      "sales",
      pageOf([b.section([b.title("Sale"), b.made("addition", { product: id, yes: "Add it", no: "Not now" })])]),
    );
    const ada = browser(context);
    expect((await ada.get("")).body).toContain("The Needles, €25.00");
    for (const _ of [1, 2]) await ada.post("add", { page: "sales", product: id, answer: "yes" });
    const person = buyer();
    await ada.post("start", person);
    expect((await ada.get("checkout")).body).toContain("€174.00");
    await ada.follow(await ada.pay(person));
    expect(await ordersOf(ada.visitorId)).toMatchObject([{ lines: "front The Workshop, offer The Needles", gross: "17400" }]);
    // Who has bought buys it by itself.
    const alone = await ada.follow(await ada.post("add", { page: "sales", product: id, answer: "yes" }));
    expect(alone.body).toContain("The Needles");
    await ada.post("start", { of: id, ...person });
    await ada.follow(await ada.pay(person, { of: id }));
    expect((await ordersOf(ada.visitorId))[1]).toMatchObject({ lines: "offer The Needles", gross: "2500" });
  });
  it("that is not offered on any page is not added, whoever asks", async () => {
    const context = await openLaunch(world, { offer: false });
    const ada = browser(context);
    const refused = await ada.post("add", { page: "sales", product: randomUUID(), answer: "yes" });
    expect(refused.status).toBe(409);
    expect(await em().count(Checkout, { visitorId: ada.visitorId })).toBe(0);
  });
});

describe("a checkout on one page", () => {
  const oneStep = async () => {
    const context = await openLaunch(world, { offer: false });
    const block = b.made("checkout", { steps: "one", quantity: true, terms: "https://marram.example/terms" });
    return publishAs(world, context, "checkout", pageOf([b.section([b.title("Order"), block])]));
  };
  it("sums with the tax of the country that is chosen at the moment, and begins nothing by being looked at", async () => {
    const ada = browser(await oneStep(), "de-DE");
    expect((await ada.get("checkout")).body).toContain("incl. VAT, 19 %");
    expect((await ada.get("checkout", { country: "PT" })).body).toContain("incl. VAT, 23 %");
    expect((await ada.get("checkout", { country: "DE", vat: "DE123456788" })).body).toContain("€125.21");
    expect(await em().count(Checkout, { visitorId: ada.visitorId })).toBe(0);
  });
  it("is paid in one press; what is wrong is said at each field, with all that was typed", async () => {
    const ada = browser(await oneStep());
    const person = buyer();
    const wrong = await ada.post("buy", { ...person, email: "ada@", cardToken: await cardToken(world), vatNumber: "" });
    expect(wrong.status).toBe(422);
    expect(wrong.body).toContain("This does not look like an email address");
    expect(wrong.body).toContain('value="ada@"');
    expect(await em().count(Checkout, { visitorId: ada.visitorId })).toBe(0);
    const token = await cardToken(world);
    const unticked = await ada.post("buy", { ...person, cardToken: token });
    expect(unticked.body).toContain("Tick this box if you agree");
    expect(await em().count(Charge, { currency: "EUR", card: token })).toBe(0);
    const end = await ada.follow(await ada.post("buy", { ...person, cardToken: token, waiver: "yes", terms: "yes" }));
    expect(end.body).toContain("Receipt, order");
    const [order] = await em().find(Order, {}, { orderBy: { number: -1 }, limit: 1 });
    expect(order!.agreed.map(({ to }) => to).sort()).toEqual(["start_at_once", "terms"]);
    // Pressed again, it is another order only by another checkout: the same one is paid.
    expect(await em().count(Checkout, { visitorId: ada.visitorId })).toBe(1);
  });
  it("takes how many before it is known who buys", async () => {
    const ada = browser(await oneStep());
    await ada.post("choose", { checkout: "", quantity: "3" });
    const { body } = await ada.get("checkout");
    expect(body).toContain("3 × The Workshop");
    expect(body).toContain("€447.00");
    const bad = await ada.post("choose", { checkout: ada.value(body, "checkout"), quantity: "many" });
    expect(bad.status).toBe(422);
    expect(bad.body).toContain("Give a number.");
    const end = await ada.follow(await ada.post("buy", { ...buyer(), cardToken: await cardToken(world), waiver: "yes", terms: "yes" }));
    expect(end.body).toContain("€447.00");
    expect(await em().count(OrderLine, { quantity: 3 })).toBe(1);
    await advance(world, 1);
  });
});

describe("a checkout that is looked at", () => {
  it("is left as it is: no row of the database is written before a press", async () => {
    const context = await openLaunch(world, { settings: { rising: { every: 1, stepMinor: 1_000, capMinor: 99_900 } } });
    const one = browser(context);
    await one.get("checkout");
    await one.post("start", { ...buyer(), vatNumber: "" });
    // Its price is held no more, and it was left alone for long enough to count as left.
    await advance(world, 16);
    await world.app.events.flush();
    // Each row says which transaction wrote it last.
    const written = async () => ({
      checkouts: await em().execute("select k.xmin::text as by, k.* from checkout k where visitor_id = ?", [one.visitorId]),
      emails: await em().execute("select xmin::text as by, id, due_at from email_message where launch_id = ?", [context.launch.id]),
      visitors: await em().execute("select xmin::text as by, id from visitor where id = ?", [one.visitorId]),
    });
    const before = await written();
    // That it was seen is logged later, beside the request.
    const logged = vi.spyOn(world.app.events, "add").mockReturnValue();
    const { body } = await one.get("checkout");
    expect(logged).toHaveBeenCalledWith(expect.objectContaining({ kind: "visited", page: "checkout" }));
    logged.mockRestore();
    expect(body).toContain('name="shown" value="14900"');
    expect(body).not.toContain("This price is held for you");
    expect(await written()).toEqual(before);
    // The first press holds the price that it leads to.
    await one.post("coupon", { checkout: one.value(body, "checkout"), code: "" });
    expect((await one.get("checkout")).body).toContain("This price is held for you");
  });
});
