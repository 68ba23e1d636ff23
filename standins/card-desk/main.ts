// A card processor to try things on: hosted card field, tokens, charges, stored cards, challenges, signed notices.
import { randomBytes, timingSafeEqual } from "node:crypto";
import { join } from "node:path";
import { z } from "zod";
import { luhn, testCards, type TestCard } from "../shared/cards";
import { keepDelivering, makeNotice, readJson, type Notice } from "../shared/notices";
import { page, safe, serve, type Call, type Reply } from "../shared/server";
import { setting, Store } from "../shared/store";
import { fieldPage } from "./field";

interface Card {
  country: string;
  outcome: TestCard["outcome"];
  last4: string;
  /** A token pays once; a stored card again and again. */
  token?: { usedBy?: string };
}
interface Charge {
  id: string;
  status: "succeeded" | "declined" | "challenge_required";
  idempotency_key: string;
  amount: number;
  currency: string;
  fee: number;
  card?: string;
  last4: string;
  card_country: string;
  decline_code?: string;
  challenge_url?: string;
  return_url: string;
  outcome: TestCard["outcome"];
  made: string;
}

const port = Number(setting("PORT"));
const base = `http://127.0.0.1:${port}`;
const key = setting("CARD_DESK_KEY");
const empty: { cards: Record<string, Card>; charges: Charge[]; notices: Notice[] } = { cards: {}, charges: [], notices: [] };
const store = new Store(join(setting("DATA"), "card-desk.json"), empty);
const { state } = store;
const id = (prefix: string) => `${prefix}_${randomBytes(12).toString("hex")}`;

const announce = (charge: Charge): void => {
  if (charge.status !== "challenge_required") state.notices.push(makeNotice(`charge.${charge.status}`, shown(charge)));
};
const shown = ({ return_url: _, outcome: __, made: ___, ...charge }: Charge) => charge;

const authorised = (call: Call): boolean => {
  const given = Buffer.from(call.headers.authorization ?? "");
  const wanted = Buffer.from(`Bearer ${key}`);
  return given.length === wanted.length && timingSafeEqual(given, wanted);
};
const refused: Reply = { status: 401, json: { error: "the key is not known" } };

const settle = (charge: Charge, status: "succeeded" | "declined", declineCode?: string): void => {
  charge.status = status;
  charge.challenge_url = undefined;
  if (status === "declined") charge.decline_code = declineCode;
  else {
    // Common practice: 1.5 % and 25 minor units.
    charge.fee = Math.min(charge.amount, Math.round(charge.amount * 0.015) + 25);
    charge.card ??= id("card");
    state.cards[charge.card] ??= { outcome: charge.outcome, last4: charge.last4, country: charge.card_country };
  }
  announce(charge);
  store.save();
};

const request = z.object({
  card: z.string(),
  amount: z.number().int().positive(),
  currency: z.string().length(3),
  description: z.string(),
  return_url: z.url(),
});

const charge = async (call: Call): Promise<Reply> => {
  if (!authorised(call)) return refused;
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
  };
  state.charges.push(made);
  if (card.outcome === "challenge") {
    made.challenge_url = `${base}/challenge/${made.id}`;
    store.save();
  } else if (card.outcome === "succeeds" || card.outcome === "slow") settle(made, "succeeded");
  else settle(made, "declined", card.outcome);
  if (card.outcome === "slow") await new Promise((done) => setTimeout(done, 5_000));
  return { json: shown(made) };
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
  const amount = `${(asked.amount / 100).toFixed(2)} ${asked.currency}`;
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
  const rows = [...state.charges]
    .reverse()
    .slice(0, 100)
    .map(
      (c) =>
        `<tr><td>${safe(c.made.slice(0, 19).replace("T", " "))}</td><td>${(c.amount / 100).toFixed(2)} ${safe(c.currency)}</td><td>${safe(c.status.replace("_", " "))}${c.decline_code ? `: ${safe(c.decline_code)}` : ""}</td><td><code>${safe(c.id)}</code></td></tr>`,
    )
    .join("");
  return {
    html: page(
      "Card desk",
      `<h1>Card desk</h1><p class="note">A card processor to try things on. No real card works here, and no money moves.</p>
<h2>Test cards</h2><p>Any month to come, any three digits.</p><table><tr><th>Number</th><th>The card</th></tr>${cards}</table>
<h2>Charges</h2><table><tr><th>When, UTC</th><th>Amount</th><th>Outcome</th><th>Charge</th></tr>${rows || "<tr><td colspan=4>None yet.</td></tr>"}</table>`,
    ),
  };
};

keepDelivering(
  () => state.notices,
  setting("NOTICE_URL"),
  setting("CARD_DESK_NOTICE_SECRET"),
  () => store.save(),
);
serve("card desk", port, [
  ["GET", /^\/$/, home],
  ["GET", /^\/healthz$/, () => ({ json: { ok: true } })],
  ["GET", /^\/field$/, fieldPage],
  ["POST", /^\/field\/tokens$/, tokenise],
  ["POST", /^\/v1\/charges$/, charge],
  ["GET", /^\/v1\/charges$/, (call) => (authorised(call) ? { json: { charges: state.charges.map(shown) } } : refused)],
  [
    "GET",
    /^\/v1\/charges\/([\w-]+)$/,
    (call) => {
      if (!authorised(call)) return refused;
      const found = state.charges.find((other) => other.id === call.params[0]);
      return found ? { json: shown(found) } : { status: 404, json: { error: "no such charge" } };
    },
  ],
  ["GET", /^\/challenge\/([\w-]+)$/, challenge],
  ["POST", /^\/challenge\/([\w-]+)$/, answerChallenge],
]);
