// An affiliate marketplace to try things on: terms, drafts, review, catalogue, a till of its own, signed notices of sales.
import { randomBytes } from "node:crypto";
import { join } from "node:path";
import { z } from "zod";
import { luhn, testCards } from "../shared/cards";
import { amountText } from "../shared/money";
import { keepDelivering, makeNotice, readJson, type Notice } from "../shared/notices";
import { page, safe, serve, type Call, type Reply } from "../shared/server";
import { setting, Store } from "../shared/store";

interface Listing {
  id: string;
  reference: string;
  title: string;
  description: string;
  vendor: string;
  priceMinor: number;
  currency: string;
  refundDays: number;
  salesPage: string;
  state: "draft" | "review" | "live" | "returned";
  tested: boolean;
  picture?: string;
}

const port = Number(setting("PORT"));
const base = `http://127.0.0.1:${port}`;
const key = setting("MARKET_KEY");
const store = new Store(join(setting("DATA"), "marketplace.json"), { listings: [] as Listing[], notices: [] as Notice[], sales: 0 });
const { state } = store;
const terms = {
  name: "Slipway Market",
  picture: { minWidth: 600, minHeight: 400, maxBytes: 512 * 1024 },
  minRefundDays: 14,
  maxRefundDays: 30,
  feeBp: 790,
};
/** Tax of the countries it sells to, in basis points; it owes and remits it itself. Values from memory. */
const taxBp: Record<string, number> = { PT: 2300, DE: 1900, FR: 2000, IE: 2300, NL: 2100, GB: 2000, US: 0 };

const tell = (type: string, data: unknown): void => {
  state.notices.push(makeNotice(type, data));
  store.save();
};
const authorized = (call: Call) => call.headers.authorization === `Bearer ${key}`;
const refused: Reply = { status: 401, json: { error: "the key is not known" } };
const listingOf = (call: Call) => state.listings.find(({ id }) => id === call.params[0]);
const missing: Reply = { status: 404, html: page("Not found", "<h1>There is no such product here.</h1>") };
const price = (l: Listing) => amountText(l.priceMinor, l.currency);

const upload = z.object({
  reference: z.string(),
  title: z.string().min(1),
  description: z.string(),
  vendor: z.string(),
  priceMinor: z.number().int().positive(),
  currency: z.string(),
  refundDays: z.number().int(),
  salesPage: z.url(),
});
const save = (call: Call): Reply => {
  if (!authorized(call)) return refused;
  const asked = readJson(upload, call.body);
  if (!asked) return { status: 400, json: { error: "the draft is not complete" } };
  let listing = state.listings.find(({ reference }) => reference === asked.reference);
  if (listing) Object.assign(listing, asked);
  else state.listings.push((listing = { ...asked, id: `sl${randomBytes(5).toString("hex")}`, state: "draft", tested: false }));
  store.save();
  return { json: { id: listing.id, test_order_url: `${base}/test/${listing.id}` } };
};
const submit = (call: Call): Reply => {
  const listing = listingOf(call);
  if (!authorized(call)) return refused;
  if (!listing) return { status: 404, json: { error: "no such draft" } };
  const asked = readJson(z.object({ picture: z.string().min(1) }), call.body);
  if (!asked) return { status: 400, json: { error: "there is no picture" } };
  if (!listing.tested) return { status: 409, json: { error: "no test order was made yet" } };
  if (listing.refundDays > terms.maxRefundDays || listing.refundDays < terms.minRefundDays)
    return { status: 409, json: { error: "the refund window does not fit the terms" } };
  Object.assign(listing, { picture: asked.picture, state: "review" });
  store.save();
  return { json: { ok: true } };
};

const picture = (l: Listing) => (l.picture ? `<img alt="" width="300" src="data:image/png;base64,${l.picture}">` : "");
const home = (): Reply => {
  const live = state.listings.filter((l) => l.state === "live");
  const cards = live
    .map(
      (l) =>
        `<div class="panel">${picture(l)}<h2>${safe(l.title)}</h2><p>${safe(l.description)}</p><p>By ${safe(l.vendor)}. ${price(l)} before tax, ${l.refundDays} days to return it. <a href="/order/${l.id}">Order</a></p></div>`,
    )
    .join("");
  return {
    html: page(
      terms.name,
      `<h1>${terms.name}</h1><p class="note">A marketplace to try things on. It sells in its own name. <a href="/review">Review desk</a></p>${cards || "<p>Nothing is listed yet.</p>"}`,
    ),
  };
};
const reviewDesk = (): Reply => {
  const rows = state.listings
    .map((l) => {
      const forms =
        l.state === "review"
          ? `<form method="post" action="/review/${l.id}"><button name="answer" value="approve">Approve</button><label>Or return it, because<input name="reason" value="The description does not say for whom the product is."></label><button class="second" name="answer" value="return">Return</button></form>`
          : safe(l.state);
      return `<tr><td>${picture(l)}<br><b>${safe(l.title)}</b><br>${price(l)}, ${l.refundDays} days</td><td>${forms}</td></tr>`;
    })
    .join("");
  return {
    html: page(
      "Review desk",
      `<p><a href="/">${terms.name}</a></p><h1>Review desk</h1><table>${rows || "<tr><td>Nothing was submitted.</td></tr>"}</table>`,
    ),
  };
};
const review = (call: Call): Reply => {
  const listing = listingOf(call);
  const form = new URLSearchParams(call.body);
  if (!listing) return missing;
  if (listing.state !== "review") return { location: "/review" };
  if (form.get("answer") === "approve") {
    listing.state = "live";
    tell("listing.approved", { listing: listing.id, order_link: `${base}/order/${listing.id}` });
  } else {
    listing.state = "returned";
    tell("listing.returned", { listing: listing.id, reasons: [form.get("reason") || "No reason given."] });
  }
  return { location: "/review" };
};

const till = (listing: Listing, test: boolean, wrong = "", typed = new URLSearchParams()): Reply => {
  const value = (name: string) => safe(typed.get(name) ?? "");
  const options = Object.keys(taxBp)
    .map((code) => `<option${typed.get("country") === code ? " selected" : ""}>${code}</option>`)
    .join("");
  return {
    status: wrong ? 422 : 200,
    html: page(
      `Order ${listing.title}`,
      `<h1>${test ? "Test order: " : ""}${safe(listing.title)}</h1><p class="note">${terms.name}${test ? ". This is a test; nobody is charged." : ""} ${price(listing)} before the tax of your country. Test card: <code>${testCards[0]!.number}</code></p>
<form class="panel" method="post"><label for="email">Email</label><input id="email" name="email" type="email" value="${value("email")}"><label for="name">First name</label><input id="name" name="first_name" value="${value("first_name")}"><label for="country">Country</label><select id="country" name="country">${options}</select><label for="card">Card number</label><input id="card" name="card" inputmode="numeric"><p class="wrong">${safe(wrong)}</p><button>${test ? "Make the test order" : "Pay"}</button></form>`,
    ),
  };
};
const pay =
  (test: boolean) =>
  (call: Call): Reply => {
    const listing = listingOf(call);
    if (!listing || (!test && listing.state !== "live")) return missing;
    const form = new URLSearchParams(call.body);
    const card = (form.get("card") ?? "").replace(/\D/g, "");
    const email = (form.get("email") ?? "").trim();
    if (!/^\S+@\S+\.\S+$/.test(email) || !form.get("first_name")) return till(listing, test, "Give an address and a name.", form);
    if (!luhn(card) || testCards.find(({ number }) => number === card)?.outcome !== "succeeds")
      return till(listing, test, "This card does not go through.", form);
    if (test) {
      listing.tested = true;
      tell("test_order.created", { listing: listing.id, order: `test-${randomBytes(4).toString("hex")}` });
    } else {
      const country = form.get("country") ?? "PT";
      const rate = taxBp[country] ?? 0;
      const [net, tax] = [listing.priceMinor, Math.round((listing.priceMinor * rate) / 10_000)];
      state.sales += 1;
      tell("sale.created", {
        listing: listing.id,
        sale: `SW-${String(state.sales).padStart(6, "0")}-${randomBytes(3).toString("hex")}`,
        net,
        tax,
        fee: Math.round((net * terms.feeBp) / 10_000),
        currency: listing.currency,
        rate_bp: rate,
        buyer: { email, first_name: form.get("first_name"), country },
      });
    }
    return {
      html: page(
        "Thank you",
        `<h1>Thank you.</h1><p>${test ? "The test order went through. You can go back to the desk." : `You bought ${safe(listing.title)}.`}</p>`,
      ),
    };
  };
const showTill =
  (test: boolean) =>
  (call: Call): Reply => {
    const listing = listingOf(call);
    return listing && (test || listing.state === "live") ? till(listing, test) : missing;
  };

keepDelivering(
  () => state.notices,
  setting("NOTICE_URL"),
  setting("MARKET_NOTICE_SECRET"),
  () => store.save(),
);
serve("marketplace", port, [
  ["GET", /^\/$/, home],
  ["GET", /^\/healthz$/, () => ({ json: { ok: true } })],
  ["GET", /^\/v1\/terms$/, () => ({ json: terms })],
  ["POST", /^\/v1\/listings$/, save],
  ["POST", /^\/v1\/listings\/(\w+)\/submit$/, submit],
  ["GET", /^\/review$/, reviewDesk],
  ["POST", /^\/review\/(\w+)$/, review],
  ["GET", /^\/test\/(\w+)$/, showTill(true)],
  ["POST", /^\/test\/(\w+)$/, pay(true)],
  ["GET", /^\/order\/(\w+)$/, showTill(false)],
  ["POST", /^\/order\/(\w+)$/, pay(false)],
]);
