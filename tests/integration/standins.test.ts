import { randomUUID } from "node:crypto";
import { createTransport } from "nodemailer";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { ProcessorUnreachable, httpCardProcessor } from "../../src/outside/cardProcessor";
import { MarketplaceRefused, httpMarketplace } from "../../src/outside/marketplace";
import { smtpMailer } from "../../src/outside/mailer";
import { cards, cardToken, startWorld, until, type World } from "../support/world";

let world: World;
beforeAll(async () => void (world = await startWorld()));
afterAll(() => world.stop());

const euros = () => world.app.cards.for({ currency: "EUR", test: false });
const charge = async (card: string, key: string = randomUUID(), amount = 1_000) =>
  euros().charge({ card, amount, currency: "EUR", description: "test", returnUrl: "http://shop.example/back", capture: true }, key);
const failure = (work: Promise<unknown>) =>
  work.then(
    () => "none",
    (error: Error) => error.message,
  );

describe("the card processor", () => {
  it("answers the first result again under the same key, and refuses another amount under it", async () => {
    const token = await cardToken(world);
    const key = randomUUID();
    const first = await charge(token, key);
    expect(await charge(token, key)).toEqual(first);
    expect(await failure(charge(token, key, 2_000))).toContain("409");
  });
  it("takes a token once, and its stored card again and again", async () => {
    const token = await cardToken(world);
    const first = await charge(token);
    expect(first).toMatchObject({ status: "succeeded", last4: "0003" });
    expect(await failure(charge(token))).toContain("does not take this card");
    expect((await charge(first.card!)).status).toBe("succeeded");
    expect((await charge(first.card!)).status).toBe("succeeded");
  });
  it("refuses what is no card, has expired, or lacks its code, in words", async () => {
    const ask = async (body: Record<string, string>) => {
      const response = await fetch(`${world.settings["CARD_DESK_URL"]}/field/tokens`, { method: "POST", body: JSON.stringify(body) });
      return ((await response.json()) as { error?: string }).error;
    };
    expect(await ask({ number: "9990000000000004", expiry: "12/39", cvc: "123" })).toContain("a digit is wrong");
    expect(await ask({ number: cards.good, expiry: "12/20", cvc: "123" })).toContain("a month to come");
    expect(await ask({ number: cards.good, expiry: "13/39", cvc: "123" })).toContain("a month to come");
    expect(await ask({ number: cards.good, expiry: "12/39", cvc: "" })).toContain("three or four digits");
  });
  it("never takes more than the amount as its fee, and tells nothing without its key", async () => {
    const tiny = await charge(await cardToken(world), randomUUID(), 10);
    expect(tiny.fee).toBe(10);
    const stranger = httpCardProcessor(world.settings["CARD_DESK_URL"]!, "not the key");
    expect(await failure(stranger.chargeById(tiny.id))).toContain("401");
    expect((await fetch(`${world.settings["CARD_DESK_URL"]}/v1/charges`)).status).toBe(401);
  });
  it("keeps its answer to a bank's question: a second answer changes nothing", async () => {
    const asked = await charge(await cardToken(world, cards.asks));
    expect(asked.status).toBe("challenge_required");
    const answer = (body: string) => fetch(asked.challenge_url!, { method: "POST", body, redirect: "manual" });
    await answer("answer=yes");
    await answer("answer=no");
    expect((await euros().chargeById(asked.id)).status).toBe("succeeded");
  });
  it("shows its card field to the page that framed it alone", async () => {
    const field = await fetch(`${euros().fieldUrl}?parent=${encodeURIComponent("http://shop.example")}`);
    expect(field.headers.get("content-security-policy")).toBe("frame-ancestors http://shop.example");
    expect((await fetch(`${euros().fieldUrl}?parent=javascript:alert(1)`)).status).toBe(400);
  });
  it("that does not answer is an error of its own kind", async () => {
    const gone = httpCardProcessor("http://127.0.0.1:9", "key");
    await expect(gone.chargeById("x")).rejects.toBeInstanceOf(ProcessorUnreachable);
  });
});

describe("the mail server", () => {
  const email = (messageId: string) => ({
    to: "a@wool.example",
    from: { name: "Shop", address: "b@shop.example" },
    subject: "Grüße: 5 € off",
    text: "Héllo\n.\nend",
    html: "<p>Héllo</p>",
    messageId,
  });

  it("takes a letter with any letters in it, as it was sent", async () => {
    await smtpMailer(world.settings["SMTP_URL"]!).send(email("<one@shop.example>"), "personal");
    const [received] = await world.inbox("a@wool.example");
    expect(received).toMatchObject({ subject: "Grüße: 5 € off", messageId: "<one@shop.example>" });
    expect(received!.text).toContain("Héllo\n.\nend");
  });
  it("shows an email that is sent again under the same Message-ID once, and counts every time it said yes", async () => {
    for (let i = 0; i < 3; i += 1) await smtpMailer(world.settings["SMTP_URL"]!).send(email("<two@shop.example>"), "personal");
    const shown = (await world.inbox("a@wool.example")).filter(({ messageId }) => messageId === "<two@shop.example>");
    expect(shown).toMatchObject([{ copies: 3 }]);
  });
  it("shows emails without running what is in them", async () => {
    const transport = createTransport(world.settings["SMTP_URL"]);
    await transport.sendMail({
      ...email("<three@shop.example>"),
      to: "evil@wool.example",
      subject: "<script>1</script>",
      html: "<script>alert(1)</script>",
    });
    const inbox = await fetch(`${world.settings["MAIL_INBOX_URL"]}/?to=evil@wool.example`);
    expect(await inbox.text()).not.toContain("<script>1");
    const id = ((await world.inbox("evil@wool.example"))[0] as unknown as { id: string }).id;
    const shown = await fetch(`${world.settings["MAIL_INBOX_URL"]}/emails/${id}`);
    expect(shown.headers.get("content-security-policy")).toBe("script-src 'none'");
  });
});

describe("the marketplace", () => {
  const draft = () => ({
    reference: randomUUID(),
    title: "A course",
    description: "Six weeks",
    vendor: "V",
    priceMinor: 9_900,
    currency: "EUR",
    refundDays: 30,
    salesPage: "http://shop.example/join",
  });
  const post = (path: string, form: Record<string, string>) =>
    fetch(path.startsWith("http") ? path : `${world.settings["MARKET_URL"]}${path}`, {
      method: "POST",
      body: new URLSearchParams(form),
      redirect: "manual",
    });

  it("answers the same draft for the same reference, with what was changed", async () => {
    const listing = draft();
    const first = await world.app.market.saveDraft(listing);
    expect(await world.app.market.saveDraft({ ...listing, title: "Another" })).toEqual(first);
    expect(await (await fetch(first.test_order_url)).text()).toContain("Another");
  });
  it("takes no submission without a test order, or with a refund window outside its terms", async () => {
    const { id, test_order_url: till } = await world.app.market.saveDraft({ ...draft(), refundDays: 60 });
    expect(await failure(world.app.market.submit(id, Buffer.from("x")))).toContain("no test order");
    await post(till, { email: "a@b.example", first_name: "A", country: "PT", card: cards.good });
    expect(await failure(world.app.market.submit(id, Buffer.from("x")))).toContain("refund window");
  });
  it("sells nothing that is not live, and asks again where the till is filled in wrongly", async () => {
    const { id, test_order_url: till } = await world.app.market.saveDraft(draft());
    expect((await fetch(`${world.settings["MARKET_URL"]}/order/${id}`)).status).toBe(404);
    const wrong = await post(till, { email: "a@b", first_name: "Ada", card: cards.good });
    expect(wrong.status).toBe(422);
    expect(await wrong.text()).toContain('value="Ada"');
    expect((await post(till, { email: "a@b.example", first_name: "Ada", card: cards.poor })).status).toBe(422);
  });
  it("lists what its review approves, and not what it returns", async () => {
    const titles = [`Kept ${randomUUID()}`, `Returned ${randomUUID()}`];
    for (const [index, title] of titles.entries()) {
      const { id, test_order_url: till } = await world.app.market.saveDraft({ ...draft(), title });
      await post(till, { email: "a@b.example", first_name: "A", country: "PT", card: cards.good });
      await world.app.market.submit(id, Buffer.from("x"));
      await post(`/review/${id}`, { answer: index === 0 ? "approve" : "return", reason: "No." });
    }
    const catalogue = await (await fetch(world.settings["MARKET_URL"]!)).text();
    expect(catalogue).toContain(titles[0]);
    expect(catalogue).not.toContain(titles[1]);
  });
  it("refuses a wrong key, and is said to be away where it is", async () => {
    const stranger = httpMarketplace("x", world.settings["MARKET_URL"]!, "not the key");
    expect(await failure(stranger.saveDraft(draft()))).toContain("the key is not known");
    await expect(httpMarketplace("x", "http://127.0.0.1:9", "k").terms()).rejects.toBeInstanceOf(MarketplaceRefused);
  });
  it("answers its terms to everyone", async () => {
    const terms = await until(() => world.app.market.terms());
    expect(terms.minRefundDays).toBeLessThan(terms.maxRefundDays);
  });
});
