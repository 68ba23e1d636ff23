// A card processor to try things on: hosted card field, tokens, charges, stored cards, challenges, signed notices.
import { randomBytes, timingSafeEqual } from "node:crypto";
import { join } from "node:path";
import { z } from "zod";
import { luhn, testCards } from "../shared/cards";
import { amountText, fixedFee } from "../shared/money";
import { keepDelivering, makeNotice, readJson, type Manner } from "../shared/notices";
import { page, safe, serve, type Call, type Reply } from "../shared/server";
import { setting, Store } from "../shared/store";
import { fieldPage } from "./field";
import { empty, feeOf, moods, type Charge, type Dispute, type Refund } from "./state";

const moodWords: Record<(typeof moods)[number], string> = {
  well: "answers at once",
  slow: "answers after four seconds",
  down: "answers nothing",
  deaf: "does what is asked, and its answer gets lost",
};
const manners: Manner[] = ["in order", "twice", "newest first", "held back"];

const port = Number(setting("PORT"));
const base = `http://127.0.0.1:${port}`;
const key = setting("CARD_DESK_KEY");
const testKey = setting("CARD_DESK_TEST_KEY");
const store = new Store(join(setting("DATA"), `${process.env["CARD_DESK_NAME"] ?? "card-desk"}.json`), empty);
const { state } = store;
const id = (prefix: string) => `${prefix}_${randomBytes(12).toString("hex")}`;

const announce = (charge: Charge): void => {
  if (charge.status !== "challenge_required") state.notices.push(makeNotice(`charge.${charge.status}`, shown(charge)));
};
const shown = ({ return_url: _, outcome: __, made: ___, test: ____, capture: _____, ...charge }: Charge) => charge;

const bears = (call: Call, wantedKey: string): boolean => {
  const given = Buffer.from(call.headers.authorization ?? "");
  const wanted = Buffer.from(`Bearer ${wantedKey}`);
  return given.length === wanted.length && timingSafeEqual(given, wanted);
};
const authorized = (call: Call): boolean => bears(call, key) || bears(call, testKey);

/** Its mood, before and after an answer. */
const moody =
  (answer: (call: Call) => Reply | Promise<Reply>) =>
  async (call: Call): Promise<Reply> => {
    if (state.mood === "down") return { status: 503, json: { error: "not now" } };
    const reply = await answer(call);
    if (state.mood === "slow") await new Promise((done) => setTimeout(done, 4_000));
    return state.mood === "deaf" ? { status: 502, json: { error: "the answer was lost" } } : reply;
  };
const refused: Reply = { status: 401, json: { error: "the key is not known" } };

const take = (charge: Charge): void => {
  charge.status = "succeeded";
  charge.fee = feeOf(charge.amount, charge.currency);
};

const settle = (charge: Charge, status: "succeeded" | "declined", declineCode?: string): void => {
  charge.challenge_url = undefined;
  if (status === "declined") Object.assign(charge, { status, decline_code: declineCode });
  else {
    if (charge.capture) take(charge);
    else charge.status = "authorized";
    charge.card ??= id("card");
    // What goes through once is refused from then on.
    const later = charge.outcome === "refused_later" ? "insufficient_funds" : charge.outcome;
    state.cards[charge.card] ??= { outcome: later, last4: charge.last4, country: charge.card_country };
  }
  announce(charge);
  store.save();
};

const request = z.object({
  card: z.string(),
  amount: z.number().int().nonnegative(),
  currency: z.string().length(3),
  description: z.string(),
  return_url: z.url(),
  capture: z.boolean().default(true),
});

const charge = async (call: Call): Promise<Reply> => {
  if (!authorized(call)) return refused;
  const idempotencyKey = String(call.headers["idempotency-key"] ?? "");
  const asked = readJson(request, call.body);
  if (!asked || !idempotencyKey) return { status: 400, json: { error: "the charge or its Idempotency-Key is not complete" } };
  const before = state.charges.find((other) => other.idempotency_key === idempotencyKey);
  if (before) {
    const same = before.amount === asked.amount && before.currency === asked.currency;
    return same ? { json: shown(before) } : { status: 409, json: { error: "this Idempotency-Key belongs to another charge" } };
  }
  const card = state.cards[asked.card];
  if (!card || (card.token?.usedBy && card.token.usedBy !== idempotencyKey))
    return { status: 400, json: { error: "the card is not known, or its token was used" } };
  if (card.token) card.token.usedBy = idempotencyKey;
  const made: Charge = {
    id: id("ch"),
    status: "challenge_required",
    capture: asked.capture,
    idempotency_key: idempotencyKey,
    amount: asked.amount,
    currency: asked.currency,
    fee: 0,
    last4: card.last4,
    card_country: card.country,
    card: card.token ? undefined : asked.card,
    return_url: asked.return_url,
    outcome: card.outcome,
    made: new Date().toISOString(),
    test: bears(call, testKey),
  };
  state.charges.push(made);
  if (card.outcome === "challenge") {
    made.challenge_url = `${base}/challenge/${made.id}`;
    store.save();
  } else if (card.outcome === "succeeds" || card.outcome === "slow" || card.outcome === "refused_later") settle(made, "succeeded");
  else settle(made, "declined", card.outcome);
  if (card.outcome === "slow") await new Promise((done) => setTimeout(done, 5_000));
  return { json: shown(made) };
};

/** What is held is taken or let go, once; what was decided before is answered again. */
const decide =
  (how: "capture" | "void") =>
  (call: Call): Reply => {
    if (!authorized(call)) return refused;
    const of = state.charges.find((other) => other.id === call.params[0]);
    if (!of || of.capture) return { status: 400, json: { error: "nothing is held by this charge" } };
    if (of.status === "authorized") {
      if (how === "capture") take(of);
      else of.status = "voided";
      announce(of);
      store.save();
    }
    return { json: shown(of) };
  };
/** A bank holds money for a week or so (common practice), and then lets go of it by itself. */
const lapse = (call: Call): Reply => {
  const of = state.charges.find((other) => other.id === call.params[0] && other.status === "authorized");
  if (!of) return { status: 404, json: { error: "no such charge" } };
  of.status = "voided";
  announce(of);
  store.save();
  return { location: "/" };
};

const refundRequest = z.object({ charge: z.string(), amount: z.number().int().positive() });
const refund = (call: Call): Reply => {
  if (!authorized(call)) return refused;
  const idempotencyKey = String(call.headers["idempotency-key"] ?? "");
  const asked = readJson(refundRequest, call.body);
  if (!asked || !idempotencyKey) return { status: 400, json: { error: "the refund or its Idempotency-Key is not complete" } };
  const told = ({ idempotency_key: _, made: __, ...rest }: Refund) => rest;
  const before = state.refunds.find((other) => other.idempotency_key === idempotencyKey);
  if (before)
    return before.amount === asked.amount
      ? { json: told(before) }
      : { status: 409, json: { error: "this Idempotency-Key belongs to another refund" } };
  const of = state.charges.find((other) => other.id === asked.charge && other.status === "succeeded");
  const back = state.refunds
    .filter((other) => other.charge === asked.charge && other.status === "succeeded")
    .reduce((sum, one) => sum + one.amount, 0);
  if (!of || back + asked.amount > of.amount) return { status: 400, json: { error: "there is not so much of this charge to give back" } };
  const made: Refund = {
    id: id("re"),
    charge: of.id,
    idempotency_key: idempotencyKey,
    status: "succeeded",
    amount: asked.amount,
    currency: of.currency,
    made: new Date().toISOString(),
  };
  state.refunds.push(made);
  store.save();
  return { json: told(made) };
};

/** Common practice: a dispute costs a fee, whoever is right: sixty times what a charge costs. */
const disputeFee = (currency: string): number => 60 * fixedFee(currency);
/** A buyer disputes all that is left of a charge, or so much of it as is asked, in minor units. */
const openDispute = (call: Call): Reply => {
  const of = state.charges.find((other) => other.id === call.params[0] && other.status === "succeeded");
  if (!of) return { status: 404, json: { error: "no such charge" } };
  if (!state.disputes.some((other) => other.charge === of.id)) {
    const back = state.refunds.filter((other) => other.charge === of.id).reduce((sum, one) => sum + one.amount, 0);
    const made: Dispute = {
      id: id("dp"),
      charge: of.id,
      status: "open",
      amount: Number(new URLSearchParams(call.body).get("amount")) || of.amount - back,
      currency: of.currency,
      fee: disputeFee(of.currency),
      reason: "not_recognised",
    };
    state.disputes.push(made);
    state.notices.push(makeNotice("dispute.opened", made));
    store.save();
  }
  return { location: "/" };
};
const closeDispute = (call: Call): Reply => {
  const of = state.disputes.find((other) => other.id === call.params[0]);
  if (!of) return { status: 404, json: { error: "no such dispute" } };
  if (of.status === "open") {
    of.status = call.params[1] === "won" ? "won" : "lost";
    state.notices.push(makeNotice("dispute.closed", of));
    store.save();
  }
  return { location: "/" };
};

const behave = (call: Call): Reply => {
  const asked = new URLSearchParams(call.body);
  const [mood, manner] = [moods.find((one) => one === asked.get("mood")), manners.find((one) => one === asked.get("manner"))];
  if (mood) state.mood = mood;
  if (manner) state.manner = manner;
  store.save();
  return { location: "/" };
};

const tokenRequest = z.object({ number: z.string(), expiry: z.string(), cvc: z.string() });
const tokenise = (call: Call): Reply => {
  const asked = readJson(tokenRequest, call.body);
  const number = asked?.number.replace(/\D/g, "") ?? "";
  const [month, year] = (asked?.expiry ?? "").split("/").map((part) => Number(part.trim()));
  const wrong = (error: string): Reply => ({ status: 422, json: { error } });
  if (!luhn(number)) return wrong("The card number is not complete, or a digit is wrong.");
  if (!month || !year || month > 12 || new Date(2000 + year, month, 1).getTime() < Date.now())
    return wrong("The expiry must be a month to come, such as 12/30.");
  if (!/^\d{3,4}$/.test(asked?.cvc ?? "")) return wrong("The security code has three or four digits.");
  const known = testCards.find((card) => card.number === number);
  const token = id("tok");
  // A number that is no test card is refused when it is charged, as a bank would.
  state.cards[token] = { outcome: known?.outcome ?? "insufficient_funds", last4: number.slice(-4), country: known?.country ?? "PT", token: {} };
  store.save();
  return { json: { token } };
};

const challenge = (call: Call): Reply => {
  const asked = state.charges.find((other) => other.id === call.params[0]);
  if (!asked) return { status: 404, html: page("Not found", "<h1>There is no such question.</h1>") };
  if (asked.status !== "challenge_required") return { location: asked.return_url };
  const amount = amountText(asked.amount, asked.currency);
  const body = `<h1>Is it you?</h1><p class="note">A bank to try things on. The shop asks for ${safe(amount)} from your card ending in ${safe(asked.last4)}.</p>
<div class="panel"><form class="inline" method="post"><button name="answer" value="yes">Yes, pay ${safe(amount)}</button> <button class="second" name="answer" value="no">No, stop the payment</button></form></div>`;
  return { html: page("Confirm the payment", body) };
};
const answerChallenge = (call: Call): Reply => {
  const asked = state.charges.find((other) => other.id === call.params[0]);
  if (!asked) return { status: 404, json: { error: "no such charge" } };
  if (asked.status === "challenge_required") {
    if (new URLSearchParams(call.body).get("answer") === "yes") settle(asked, "succeeded");
    else settle(asked, "declined", "challenge_failed");
  }
  return { location: asked.return_url };
};

const home = (): Reply => {
  const cards = testCards
    .map((card) => `<tr><td><code>${card.number.replace(/(.{4})/g, "$1 ").trim()}</code></td><td>${safe(card.does)}</td></tr>`)
    .join("");
  const press = (action: string, words: string) =>
    `<form class="inline" method="post" action="${action}"><button class="second">${words}</button></form>`;
  const fate = (c: Charge): string => {
    const dispute = state.disputes.find((one) => one.charge === c.id);
    const back = state.refunds.filter((one) => one.charge === c.id).reduce((sum, one) => sum + one.amount, 0);
    const given = back > 0 ? `${amountText(back, c.currency)} given back. ` : "";
    if (dispute?.status === "open")
      return `${given}Disputed. ${press(`/disputes/${dispute.id}/won`, "The shop wins")} ${press(`/disputes/${dispute.id}/lost`, "The shop loses")}`;
    if (dispute) return `${given}Dispute ${dispute.status}.`;
    if (c.status === "authorized") return `Held on the card. ${press(`/charges/${safe(c.id)}/lapse`, "Let it lapse")}`;
    return c.status === "succeeded" && c.amount > back ? `${given}${press(`/charges/${safe(c.id)}/dispute`, "Dispute it")}` : given;
  };
  const rows = [...state.charges]
    .reverse()
    .slice(0, 100)
    .map(
      (c) =>
        `<tr><td>${safe(c.made.slice(0, 19).replace("T", " "))}</td><td>${safe(amountText(c.amount, c.currency))}${c.test ? ", test" : ""}</td><td>${safe(c.status.replace("_", " "))}${c.decline_code ? `: ${safe(c.decline_code)}` : ""}</td><td><code>${safe(c.id)}</code></td><td>${fate(c)}</td></tr>`,
    )
    .join("");
  const options = (all: readonly string[], now: string, words: (one: never) => string) =>
    all.map((one) => `<option value="${one}"${one === now ? " selected" : ""}>${safe(words(one as never))}</option>`).join("");
  return {
    html: page(
      "Card desk",
      `<h1>Card desk</h1><p class="note">A card processor to try things on. No real card works here, and no money moves.</p>
<h2>Test cards</h2><p>Any month to come, any three digits.</p><table><tr><th>Number</th><th>The card</th></tr>${cards}</table>
<h2>How it behaves</h2><div class="panel"><form method="post" action="/behave"><label for="mood">Asked for a charge or a refund, it</label><select id="mood" name="mood">${options(moods, state.mood, (one: keyof typeof moodWords) => moodWords[one])}</select>
<label for="manner">Its notices arrive</label><select id="manner" name="manner">${options(manners, state.manner, (one: Manner) => one)}</select><p><button>Behave so</button></p></form></div>
<h2>Charges</h2><div class="scroll"><table><tr><th>When, UTC</th><th>Amount</th><th>Outcome</th><th>Charge</th><th>Since then</th></tr>${rows || "<tr><td colspan=5>None yet.</td></tr>"}</table></div>`,
    ),
  };
};

keepDelivering(
  () => state.notices,
  setting("NOTICE_URL"),
  setting("CARD_DESK_NOTICE_SECRET"),
  () => store.save(),
  () => state.manner,
);
serve("card desk", port, [
  ["GET", /^\/$/, home],
  ["GET", /^\/healthz$/, () => ({ json: { ok: true } })],
  ["GET", /^\/field$/, fieldPage],
  ["POST", /^\/field\/tokens$/, tokenise],
  ["POST", /^\/v1\/charges$/, moody(charge)],
  ["POST", /^\/v1\/charges\/([\w-]+)\/capture$/, moody(decide("capture"))],
  ["POST", /^\/v1\/charges\/([\w-]+)\/void$/, moody(decide("void"))],
  ["POST", /^\/charges\/([\w-]+)\/lapse$/, lapse],
  ["POST", /^\/v1\/refunds$/, moody(refund)],
  ["GET", /^\/v1\/refunds$/, (call) => (authorized(call) ? { json: { refunds: state.refunds } } : refused)],
  ["POST", /^\/behave$/, behave],
  ["POST", /^\/charges\/([\w-]+)\/dispute$/, openDispute],
  ["POST", /^\/disputes\/([\w-]+)\/(won|lost)$/, closeDispute],
  ["GET", /^\/v1\/charges$/, (call) => (authorized(call) ? { json: { charges: state.charges.map(shown) } } : refused)],
  [
    "GET",
    /^\/v1\/charges\/([\w-]+)$/,
    (call) => {
      if (!authorized(call)) return refused;
      const found = state.charges.find((other) => other.id === call.params[0]);
      return found ? { json: shown(found) } : { status: 404, json: { error: "no such charge" } };
    },
  ],
  ["GET", /^\/challenge\/([\w-]+)$/, challenge],
  ["POST", /^\/challenge\/([\w-]+)$/, answerChallenge],
]);
