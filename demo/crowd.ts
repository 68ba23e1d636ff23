import { assignArm, type Arm } from "../src/core/pages";
import { taxTable } from "../src/server/offers/taxTable";
import {
  asksWaiver,
  emptyPath,
  feesOf,
  isEnd,
  itemOf,
  rateAt,
  stepAfter,
  taxed,
  waiverWords,
  type Decision,
  type LineRole,
  type OfferPath,
} from "../src/core/offers";
import { feeOf } from "../standins/card-desk/state";
import { commissionPostings, multiplyRounded, paymentPostings, type Posting } from "../src/core/money";
import { commissionOn, commissionRateAt, heldUntil, lastTouchCredit } from "../src/core/partners";
import type { Featured } from "../src/core/launch";
import type { Launch, Partner, Product } from "../src/store/entities";
import type { EntityManager } from "../src/store/orm";
import type { Payments } from "./payments";
import type { Random } from "./random";

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
const firstNames = [
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

type Row = Record<string, unknown>;

/** Inserts rows of one table in few statements. Column names come from the first row. */
const insert = async (em: EntityManager, table: string, rows: Row[]): Promise<void> => {
  if (rows.length === 0) return;
  const columns = Object.keys(rows[0]!);
  for (let from = 0; from < rows.length; from += 2_000) {
    const batch = JSON.stringify(rows.slice(from, from + 2_000));
    await em.execute(
      `insert into ${table} (${columns.join(", ")}) select ${columns.join(", ")} from jsonb_populate_recordset(null::${table}, ?::jsonb)`,
      [batch],
    );
  }
};

const pickCountry = (random: Random): string => {
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
    ["person", "visitor", "contact", "touch", "event", "stage_rollup", "clock_start", "checkout", "email_message", "charge"].map((name) => [
      name,
      [],
    ]),
  );
  const sales: { order: Row; charges: Row[]; uses: Row[]; lines: Row[]; journals: Row[]; postings: Row[]; commissions: Row[]; decisions: Row[] }[] =
    [];
  const hourly = new Map<string, number>();
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
    rows["stage_rollup"]!.push({
      launch_id: launch.id,
      person_id: id,
      country,
      partner_id: partner?.id ?? null,
      visited: at,
      opted_in: first.opted_in ?? null,
      saw_sales: first.saw_sales ?? null,
      began_checkout: first.began_checkout ?? null,
      paid: first.paid ?? null,
    });
    const logged = Object.entries(first).map(([kind, when]) => ({
      ...{ kind, when },
      page: kind === "visited" || kind === "opted_in" ? "optin" : kind === "saw_sales" ? "sales" : "checkout",
    }));
    for (const { page, opens, seen } of plan.episodes ?? []) {
      const from = first.opted_in && new Date(Math.max(first.opted_in.getTime(), opens.getTime()));
      const when = from && later(from, 2 * day);
      if (when && random.chance(seen) && past(when.getTime())) logged.push({ kind: "visited", when, page });
    }
    for (const { kind, when, page } of logged) {
      rows["event"]!.push({ launch_id: launch.id, person_id: id, kind, at: when, page, country });
      const slot = `${new Date(Math.floor(when.getTime() / hour) * hour).toISOString()}|${kind}`;
      hourly.set(slot, (hourly.get(slot) ?? 0) + 1);
    }
    if (plan.deadline && first.opted_in) {
      rows["clock_start"]!.push({ id: random.uuid(), launch_id: launch.id, person_id: id, visitor_id: id, at: first.opted_in, trigger: "opt_in" });
    }
    if (partner) rows["touch"]!.push({ id: random.uuid(), launch_id: launch.id, person_id: id, partner_id: partner.id, at });
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
      consent_text: first.opted_in ? "Yes, Marram & Purl may write to me about this launch. I can stop the letters with one click." : null,
      consent_at: first.opted_in ?? null,
    });
    if (!first.began_checkout) continue;

    const checkoutId = random.uuid();
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
        rows["charge"]!.push(plan.payments.charge({ checkoutId, key: `checkout:${checkoutId}:1`, items, card, at }, why));
      }
      continue;
    }

    const touches = partner ? [{ id: random.uuid(), partnerId: partner.id, partnerName: partner.name, at }] : [];
    const credit = lastTouchCredit(touches, first.paid, launch.creditWindowDays);
    const orderId = random.uuid();
    const paidAt = first.paid;
    const answers = new Map<string, Decision>();
    for (let at = stepAfter(plan.offers?.path ?? emptyPath, answers); !isEnd(at); at = stepAfter(plan.offers!.path, answers))
      answers.set(at, random.chance(plan.offers!.steps[at]!.take) ? "yes" : "no");
    const taken = [...answers].filter(([, answer]) => answer === "yes").map(([stepId]) => ({ stepId, product: plan.offers!.steps[stepId]!.product }));
    const agreed = asksWaiver([product.kind], country, false) ? [{ to: "start_at_once", words: waiverWords, at: paidAt.toISOString() }] : [];
    Object.assign(checkout, { agreed });
    const browser = plan.payments.random.chance(0.93) ? country : plan.payments.random.pick(["US", "GB", "DE"]);
    const sale = {
      order: {
        id: orderId,
        launch_id: launch.id,
        checkout_id: checkoutId,
        contact_id: contactId,
        person_id: id,
        currency: "EUR",
        placed_at: paidAt,
        country,
        card_ref: card.ref,
        card_last4: card.last4,
        source: "own",
        partner_id: partner?.id ?? null,
        credit,
        recovered,
        finished_path_at: paidAt,
        path_version: plan.offers ? 1 : 0,
        evidence: [
          { kind: "billing", country },
          { kind: "card", country },
          { kind: "browser", country: browser },
        ],
        agreed,
      } as Row,
      charges: [] as Row[],
      uses: [] as Row[],
      lines: [] as Row[],
      journals: [] as Row[],
      postings: [] as Row[],
      commissions: [] as Row[],
      decisions: [...answers].map(([step_id, decision]) => ({ order_id: orderId, step_id, decision, at: paidAt })),
    };
    const journal = (kind: string, lineId: string, postings: Posting[]) => {
      const journalId = random.uuid();
      sale.journals.push({ id: journalId, kind, order_id: orderId, line_id: lineId, at: paidAt });
      postings.forEach((posting, position) =>
        sale.postings.push({
          journal_id: journalId,
          position,
          account: posting.account,
          partner_id: posting.partnerId ?? null,
          minor: posting.minor,
          currency: posting.currency,
        }),
      );
    };
    const coupon = plan.coupon && plan.payments.random.chance(plan.coupon.share) ? plan.coupon : undefined;
    const bought = (of: Product, role: LineRole) => {
      const price = role === "front" ? plan.price(paidAt) : of.priceMinor;
      const discount = coupon && role === "front" ? multiplyRounded(price, coupon.bp, 10_000) : 0;
      const amount = taxed(price - discount, of.taxMode, rateAt(table, country, "standard", paidAt));
      return { product: of, item: itemOf(of.id, role, amount, { discount }) };
    };
    // One payment at the checkout, and one for each offer that was taken.
    for (const { stepId, sold } of [
      {
        stepId: undefined,
        sold: [bought(product, "front"), ...(plan.bump && random.chance(plan.bump.take) ? [bought(plan.bump.product, "bump")] : [])],
      },
      ...taken.map((one) => ({ stepId: one.stepId, sold: [bought(one.product, "offer")] })),
    ]) {
      const items = sold.map(({ item }) => item);
      const key = stepId ? `offer:${orderId}:${stepId}:1` : `checkout:${checkoutId}:1`;
      const of = { checkoutId, ...(stepId ? { stepId } : coupon ? { coupon: coupon.code } : {}), key, items, card, at: paidAt };
      const charge = plan.payments.charge(of);
      sale.charges.push(charge);
      if (coupon && !stepId)
        sale.uses.push({ order_id: orderId, code: coupon.code, discount_minor: items[0]!.discount ?? 0, currency: "EUR", at: paidAt });
      const fees = feesOf(items, feeOf(Number(charge["amount_minor"])));
      for (const [index, { product: of, item }] of sold.entries()) {
        const { gross, tax, rateBp: taxBp, role, discount = 0 } = item;
        const [net, fee] = [gross - tax, fees[index]!];
        const lineId = random.uuid();
        sale.lines.push({
          ...{ id: lineId, order_id: orderId, charge_id: charge.id, product_id: of.id, step_id: stepId ?? null, role, name: of.name },
          ...{ net_minor: net, tax_minor: tax, gross_minor: gross, rate_bp: taxBp, fee_minor: fee, discount_minor: discount },
        });
        journal("payment", lineId, paymentPostings({ net, tax, fee, currency: "EUR" }));
        if (!partner) continue;
        const rateBp = commissionRateAt(partner.rateBp, plan.featured ?? [], paidAt);
        const minor = commissionOn(net, rateBp);
        sale.commissions.push({
          line_id: lineId,
          partner_id: partner.id,
          base_minor: net,
          rate_bp: rateBp,
          minor,
          currency: "EUR",
          held_until: heldUntil(paidAt, of.refundDays),
        });
        journal("commission", lineId, commissionPostings(partner.id, minor, "EUR"));
      }
    }
    const receiptAt = new Date(paidAt.getTime() + 15 * 60_000);
    if (past(receiptAt.getTime()))
      rows["email_message"]!.push({
        ...{ id: plan.payments.random.uuid(), key: `receipt:${orderId}`, kind: "receipt", launch_id: launch.id, contact_id: contactId },
        ...{ checkout_id: null, due_at: receiptAt, state: "sent", stopped_because: null, data: { orderId }, sent_at: receiptAt },
      });
    sales.push(sale);
  }

  const hours = [...hourly].map(([slot, n]) => ({ launch_id: launch.id, hour: slot.split("|")[0], kind: slot.split("|")[1], n }));
  await em.transactional(async (tx) => {
    for (const [name, of] of Object.entries(rows)) await insert(tx, name, of);
    await insert(tx, "hourly_count", hours);
    await tx.execute(
      `insert into page_rollup (launch_id, page, person_id, seen_at, acted_at)
       select launch_id, page, person_id, min(at), min(at) filter (where kind = 'opted_in') from event where launch_id = ? group by 1, 2, 3`,
      [launch.id],
    );
    for (const [page, arms] of Object.entries(plan.tests ?? {})) {
      const seen = await tx.execute<{ person_id: string }[]>("select person_id from page_rollup where launch_id = ? and page = ?", [launch.id, page]);
      const others = seen.filter(({ person_id }) => assignArm(`${launch.id}/${page}`, person_id, arms) === "B").map(({ person_id }) => person_id);
      await tx.execute("update page_rollup set variant = 'B' where launch_id = ? and page = ? and person_id = any(?::uuid[])", [
        launch.id,
        page,
        `{${others.join(",")}}`,
      ]);
    }
    sales.sort((a, b) => (a.order["placed_at"] as Date).getTime() - (b.order["placed_at"] as Date).getTime());
    const [start] = await tx.execute<{ n: string }[]>("select 1000 + count(*) as n from sale_order");
    await tx.execute("alter table sale_order alter column number set generated by default");
    await insert(
      tx,
      "sale_order",
      sales.map(({ order }, index) => ({ ...order, number: Number(start!.n) + 1 + index })),
    );
    await tx.execute("alter table sale_order alter column number set generated always");
    await tx.execute("select setval(pg_get_serial_sequence('sale_order', 'number'), ?)", [Number(start!.n) + sales.length]);
    const [coupon] = plan.coupon
      ? await tx.execute<{ id: string }[]>("select coupon_id as id from coupon_code where code = ?", [plan.coupon.code])
      : [];
    await insert(
      tx,
      "coupon_use",
      sales.flatMap(({ uses }) => uses.map((use) => ({ ...use, coupon_id: coupon!.id }))),
    );
    for (const [name, key] of [
      ["charge", "charges"],
      ["order_line", "lines"],
      ["journal", "journals"],
      ["posting", "postings"],
      ["commission", "commissions"],
      ["offer_decision", "decisions"],
    ] as const) {
      await insert(
        tx,
        name,
        sales.flatMap((sale) => sale[key]),
      );
    }
  });
};
