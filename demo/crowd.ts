import { assignArm, type Arm } from "../src/core/pages";
import { taxTable } from "../src/server/products/taxTable";
import { itemOf, rateAt, taxed, type OfferPath } from "../src/core/offers";
import type { Featured } from "../src/core/launch";
import type { Launch, Partner, Product } from "../src/store/tables";
import { writeEvents, type LoggedEvent } from "../src/store/events/writeEvents";
import type { EntityManager } from "../src/store/orm";
import type { Payments } from "./payments";
import type { Random } from "./random";
import { insert, type Row } from "./rows";
import { saleEvents, saleOf, writeSales, type DemoSale } from "./sale";

export interface CrowdPlan {
  launch: Launch;
  product: Product;
  /** The offer path, with what each step sells and how many take it. */
  offers?: { path: OfferPath; steps: Record<string, { product: Product; take: number } | undefined> };
  /** A bump of the checkout, and the share of buyers who tick it. */
  bump?: { product: Product; take: number };
  /** A code for the main product: what it takes off, in basis points, and the share of buyers who use it. */
  coupon?: { code: string; bp: number; share: number };
  /** Episodes, from when on they were open, and the share of the list that came to each. */
  episodes?: { page: string; opens: Date; seen: number }[];
  partners: Partner[];
  random: Random;
  payments: Payments;
  people: number;
  /** When people come, and between which instants they can buy. */
  span: { from: Date; opens: Date; closes: Date };
  /** With a clock for each person: when a clock that starts now ends. */
  deadline?: (start: Date) => Date;
  /** Price of the main product at an instant, in minor units. */
  price: (at: Date) => number;
  /** Days on which partners earned more. */
  featured?: Featured[];
  /** Nothing happens after this instant. */
  until: Date;
  /** Pages of which two versions are tested. */
  tests?: Record<string, Arm[]>;
  signUp: number;
  sales: number;
  checkout: number;
  paid: number;
}

const hour = 3_600_000;
const day = 24 * hour;
export const firstNames = [
  "Ailsa",
  "Bram",
  "Catrin",
  "Dorte",
  "Eilidh",
  "Finn",
  "Greet",
  "Hanne",
  "Ines",
  "Jonna",
  "Kerstin",
  "Lowri",
  "Maren",
  "Niamh",
  "Oona",
  "Petra",
  "Rosa",
  "Signe",
  "Tove",
  "Una",
];
const countries: [string, number][] = [
  ["GB", 0.27],
  ["DE", 0.2],
  ["PT", 0.12],
  ["NL", 0.1],
  ["FR", 0.09],
  ["IE", 0.07],
  ["DK", 0.05],
  ["SE", 0.05],
  ["IT", 0.03],
  ["US", 0.02],
];

/** Where visitors were sent from, by the first digit of their id; most came by themselves. */
const sources = ["guild-newsletter", "guild-newsletter", "wool-weekly", "wool-weekly", "pattern-fair", "search"];

const places: Record<string, [zone: string, language: string]> = {
  GB: ["Europe/London", "en"],
  DE: ["Europe/Berlin", "de"],
  PT: ["Europe/Lisbon", "pt"],
  NL: ["Europe/Amsterdam", "nl"],
  FR: ["Europe/Paris", "fr"],
  IE: ["Europe/Dublin", "en"],
  DK: ["Europe/Copenhagen", "da"],
  SE: ["Europe/Stockholm", "sv"],
  IT: ["Europe/Rome", "it"],
  US: ["America/New_York", "en"],
};
/** What the browser of somebody in a country would say of them. */
const guessOf = (country: string): Row => {
  const [zone, language] = places[country] ?? [null, null];
  return { guessed_zone: zone, guessed_language: language };
};

export const pickCountry = (random: Random): string => {
  let left = random.next();
  for (const [code, share] of countries) if ((left -= share) < 0) return code;
  return "PT";
};

/** When people arrive: a swell through the run-up, peaks at the bells, quiet nights. */
const arrival = (random: Random, { span, deadline }: CrowdPlan, until: Date): Date => {
  const [from, opens, closes] = [span.from.getTime(), span.opens.getTime(), span.closes.getTime()];
  for (;;) {
    const kind = random.next();
    const at = deadline
      ? from + kind * (closes - from)
      : kind < 0.34
        ? from + random.next() * (opens - from)
        : kind < 0.62
          ? opens + Math.abs(random.normal()) * 1.1 * day
          : kind < 0.8
            ? closes - Math.abs(random.normal()) * 0.5 * day
            : opens + random.next() * (closes - opens);
    const night = 0.55 - 0.45 * Math.cos((((at / hour + 20) % 24) / 24) * 2 * Math.PI);
    if (at >= from && at < Math.min(until.getTime(), closes) && random.chance(night)) return new Date(at);
  }
};

/** Seeds the visitors of a launch with all that follows from what they did: contacts, orders, journals, commissions. */
export const seedCrowd = async (em: EntityManager, plan: CrowdPlan): Promise<void> => {
  const { launch, product, random, until } = plan;
  const table = (await taxTable(em)).map((row) => ({ ...row, from: new Date(row.from) }));
  const rows: Record<string, Row[]> = Object.fromEntries(
    ["person", "visitor", "contact", "touch", "touch_person", "clock_start", "checkout", "email_message", "charge"].map((name) => [name, []]),
  );
  const sales: DemoSale[] = [];
  const events: LoggedEvent[] = [];
  const past = (at: number) => at < Math.min(until.getTime(), plan.span.closes.getTime());

  for (let i = 0; i < plan.people; i += 1) {
    const id = random.uuid();
    const at = arrival(random, plan, until);
    const country = pickCountry(random);
    const partner = random.chance(0.38) ? plan.partners[Math.floor(random.next() ** 1.7 * plan.partners.length)]! : undefined;
    const first: Partial<Record<"visited" | "opted_in" | "saw_sales" | "began_checkout" | "paid", Date>> = { visited: at };
    const later = (from: Date, most: number) => new Date(from.getTime() + 20_000 + random.next() * most);
    const inRunUp = plan.deadline !== undefined || at < plan.span.opens;
    if (inRunUp && random.chance(plan.signUp)) first.opted_in = later(at, 6 * 60_000);
    if (plan.deadline) {
      // Nobody sees the offer before their own clock runs, nor buys after it has run out.
      if (first.opted_in) first.saw_sales = later(first.opted_in, 60_000);
    } else if (!inRunUp) first.saw_sales = at;
    else if (random.chance(plan.sales)) {
      const back = new Date(plan.span.opens.getTime() + Math.abs(random.normal()) * 1.6 * day);
      if (past(back.getTime())) first.saw_sales = back;
    }
    const keen = first.opted_in ? 1.9 : 1;
    if (first.saw_sales && random.chance(plan.checkout * keen)) first.began_checkout = later(first.saw_sales, 25 * 60_000);
    if (first.began_checkout && random.chance(plan.paid)) first.paid = later(first.began_checkout, 8 * 60_000);
    for (const stage of ["opted_in", "saw_sales", "began_checkout", "paid"] as const)
      if (first[stage] && !past(first[stage].getTime())) delete first[stage];
    if (plan.deadline && first.opted_in) {
      const ends = plan.deadline(first.opted_in);
      for (const stage of ["began_checkout", "paid"] as const) if (first[stage] && first[stage] >= ends) delete first[stage];
    }
    if (!first.saw_sales) delete first.began_checkout;
    if (!first.began_checkout) delete first.paid;

    rows["person"]!.push({ id, created_at: at });
    rows["visitor"]!.push({ id, person_id: id, first_seen_at: at, country });
    const source = partner ? undefined : sources[Number.parseInt(id[0]!, 16)];
    const by = { launchId: launch.id, visitorId: id, country };
    const sees = (kind: "visited" | "saw_sales", page: string, when: Date) => {
      const variant = assignArm(`${launch.id}/${page}`, id, plan.tests?.[page] ?? []) ?? "A";
      events.push({ ...by, kind, at: when, page, data: { variant, ...(source ? { source } : {}) } });
    };
    if (inRunUp) sees("visited", "optin", at);
    if (first.opted_in) events.push({ ...by, kind: "opted_in", at: first.opted_in, page: "optin", data: { form: "form" } });
    if (first.saw_sales) sees("saw_sales", "sales", first.saw_sales);
    for (const { page, opens, seen } of plan.episodes ?? []) {
      const from = first.opted_in && new Date(Math.max(first.opted_in.getTime(), opens.getTime()));
      const when = from && later(from, 2 * day);
      if (when && random.chance(seen) && past(when.getTime())) sees("visited", page, when);
    }
    if (plan.deadline && first.opted_in) {
      rows["clock_start"]!.push({ id: random.uuid(), launch_id: launch.id, person_id: id, visitor_id: id, at: first.opted_in, trigger: "opt_in" });
    }
    if (partner) {
      const touch = random.uuid();
      rows["touch"]!.push({ id: touch, launch_id: launch.id, partner_id: partner.id, at });
      rows["touch_person"]!.push({ touch_id: touch, person_id: id });
    }
    if (!first.opted_in && !first.began_checkout) continue;

    const name = random.pick(firstNames);
    const contactId = random.uuid();
    const known = first.opted_in ?? first.began_checkout!;
    rows["contact"]!.push({
      id: contactId,
      person_id: id,
      email: `${name.toLowerCase()}.${launch.slug}.${i}@wool.example`,
      first_name: name,
      country,
      created_at: known,
      consent_text: first.opted_in ? "Yes, Marram & Purl may write to me about this launch. I can unsubscribe with one click." : null,
      consent_at: first.opted_in ?? null,
      ...guessOf(country),
    });
    if (!first.began_checkout) continue;

    const checkoutId = random.uuid();
    sees("visited", "checkout", first.began_checkout);
    events.push({ ...by, kind: "began_checkout", at: first.began_checkout, page: "checkout", data: { checkout: checkoutId, product: product.id } });
    const card = plan.payments.card(country);
    const recovered = first.paid !== undefined && random.chance(0.08);
    const lastActivity = first.paid ?? later(first.began_checkout, 3 * 60_000);
    const checkout: Row = {
      id: checkoutId,
      visitor_id: id,
      launch_id: launch.id,
      person_id: id,
      contact_id: contactId,
      email: `${name.toLowerCase()}.${launch.slug}.${i}@wool.example`,
      first_name: name,
      country,
      begun_at: first.began_checkout,
      last_activity_at: lastActivity,
      paid_at: first.paid ?? null,
      recovered_through_email: recovered,
      agreed: [],
    };
    rows["checkout"]!.push(checkout);
    const due = new Date(lastActivity.getTime() + launch.recoveryDelayMinutes * 60_000);
    const sent = !first.paid || recovered;
    if (past(due.getTime())) {
      rows["email_message"]!.push({
        id: random.uuid(),
        key: `recovery:${launch.id}:${contactId}`,
        kind: "recovery",
        launch_id: launch.id,
        contact_id: contactId,
        checkout_id: checkoutId,
        due_at: due,
        state: sent ? "sent" : "stopped",
        stopped_because: sent ? null : "paid",
        data: {},
        sent_at: sent ? due : null,
      });
    }
    if (!first.paid) {
      // Some pressed, and their bank said no.
      const at = new Date(lastActivity.getTime() - 60_000);
      if (past(at.getTime()) && plan.payments.random.chance(0.3)) {
        const tax = rateAt(table, country, "standard", at);
        const items = [itemOf(product.id, "front", taxed(plan.price(at), product.taxMode, tax))];
        const why = plan.payments.random.chance(0.8) ? "insufficient_funds" : "expired_card";
        const charge = plan.payments.charge({ checkoutId, key: `checkout:${checkoutId}:1`, items, card, at }, why);
        rows["charge"]!.push(charge);
        const data = { checkout: checkoutId, amountMinor: Number(charge["amount_minor"]), currency: product.currency, code: why };
        events.push({ ...by, kind: "payment_refused", at, page: "checkout", data });
      }
      continue;
    }

    const paidAt = first.paid;
    const sale = saleOf(plan, { personId: id, contactId, checkoutId, country, card, partner, cameAt: at, paidAt, recovered }, table);
    Object.assign(checkout, { agreed: sale.order["agreed"] });
    events.push(...saleEvents(sale, (step) => plan.offers!.steps[step]!.product.id, { ...by, at: paidAt }));
    const receiptAt = new Date(paidAt.getTime() + 15 * 60_000);
    if (past(receiptAt.getTime()))
      rows["email_message"]!.push({
        id: plan.payments.random.uuid(),
        key: `receipt:${String(sale.order["id"])}`,
        kind: "receipt",
        launch_id: launch.id,
        contact_id: contactId,
        checkout_id: null,
        due_at: receiptAt,
        state: "sent",
        stopped_because: null,
        data: { orderId: sale.order["id"] },
        sent_at: receiptAt,
      });
    sales.push(sale);
  }

  await em.transactional(async (tx) => {
    for (const [name, of] of Object.entries(rows)) await insert(tx, name, of);
    // By the writer of the app itself, so that every figure is one that it would show.
    for (let from = 0; from < events.length; from += 5_000) await writeEvents(tx, events.slice(from, from + 5_000));
    await writeSales(tx, sales, plan.coupon?.code);
  });
};
