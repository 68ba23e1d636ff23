import { publicWords } from "../src/core/words";
import { commissionPostings, multiplyRounded, paymentPostings, type Posting } from "../src/core/money";
import {
  asksWaiver,
  emptyPath,
  feesOf,
  isEnd,
  itemOf,
  rateAt,
  stepAfter,
  taxed,
  type Decision,
  type LineRole,
  type TaxRate,
} from "../src/core/offers";
import { commissionOn, commissionRateAt, partnerRatePlan, pendingUntil, creditFor } from "../src/core/partners";
import type { Partner, Product } from "../src/store/tables";
import type { LoggedEvent } from "../src/store/events/writeEvents";
import type { EntityManager } from "../src/store/orm";
import { feeOf } from "../standins/card-desk/state";
import type { CrowdPlan } from "./crowd";
import type { DemoCard } from "./payments";
import { insert, type Row } from "./rows";

/** An order with all that hangs on it, as rows of their tables. */
export interface DemoSale {
  order: Row;
  charges: Row[];
  uses: Row[];
  lines: Row[];
  journals: Row[];
  postings: Row[];
  commissions: Row[];
  decisions: Row[];
}

/** What the buyer of a sale did, for the log of events: paid, and answered each offer. */
export const saleEvents = (
  { order, lines, decisions }: DemoSale,
  offered: (step: string) => string,
  by: Pick<LoggedEvent, "launchId" | "visitorId" | "country"> & { at: Date },
): LoggedEvent[] => {
  const id = String(order["id"]);
  const sold = (step: unknown) => {
    const own = lines.filter((line) => line["step_id"] === step);
    return {
      order: id,
      amountMinor: own.reduce((sum, line) => sum + Number(line["gross_minor"]), 0),
      currency: "EUR",
      products: own.map((line) => String(line["product_id"])),
    };
  };
  return [
    { ...by, kind: "paid", page: "checkout", data: sold(null) },
    ...decisions.map(({ step_id, decision }): LoggedEvent => {
      const step = String(step_id);
      if (decision === "yes") return { ...by, kind: "offer_accepted", page: "offer", data: { ...sold(step), step } };
      return { ...by, kind: "offer_declined", page: "offer", data: { order: id, step, product: offered(step) } };
    }),
  ];
};

interface DemoBuyer {
  personId: string;
  contactId: string;
  checkoutId: string;
  country: string;
  card: DemoCard;
  partner?: Partner;
  cameAt: Date;
  paidAt: Date;
  recovered: boolean;
}

/** What one buyer bought: the main product, perhaps a bump and offers, with payments, books and commissions. */
export const saleOf = (plan: CrowdPlan, buyer: DemoBuyer, table: TaxRate[]): DemoSale => {
  const { launch, product, random } = plan;
  const { personId, contactId, checkoutId, country, card, partner, cameAt, paidAt, recovered } = buyer;
  const touches = partner ? [{ id: random.uuid(), partnerId: partner.id, partnerName: partner.name, at: cameAt }] : [];
  const credit = creditFor(touches, paidAt, launch.creditWindowDays);
  const orderId = random.uuid();
  const answers = new Map<string, Decision>();
  for (let at = stepAfter(plan.offers?.path ?? emptyPath, answers); !isEnd(at); at = stepAfter(plan.offers!.path, answers))
    answers.set(at, random.chance(plan.offers!.steps[at]!.take) ? "yes" : "no");
  const taken = [...answers].filter(([, answer]) => answer === "yes").map(([stepId]) => ({ stepId, product: plan.offers!.steps[stepId]!.product }));
  const agreed = asksWaiver([product.kind], country, false)
    ? [{ to: "start_at_once", words: publicWords().checkout.waiver, at: paidAt.toISOString() }]
    : [];
  const browser = plan.payments.random.chance(0.93) ? country : plan.payments.random.pick(["US", "GB", "DE"]);
  const sale: DemoSale = {
    order: {
      id: orderId,
      launch_id: launch.id,
      checkout_id: checkoutId,
      contact_id: contactId,
      person_id: personId,
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
    },
    charges: [],
    uses: [],
    lines: [],
    journals: [],
    postings: [],
    commissions: [],
    decisions: [...answers].map(([step_id, decision]) => ({ order_id: orderId, step_id, decision, at: paidAt })),
  };
  const journal = (kind: string, lineId: string, postings: Posting[], commissionId: string | null = null) => {
    const journalId = random.uuid();
    sale.journals.push({ id: journalId, kind, order_id: orderId, line_id: lineId, commission_id: commissionId, at: paidAt });
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
    const fees = feesOf(items, feeOf(Number(charge["amount_minor"]), String(charge["currency"])));
    for (const [index, { product: of, item }] of sold.entries()) {
      const { gross, tax, rateBp: taxBp, role, discount = 0 } = item;
      const [net, fee] = [gross - tax, fees[index]!];
      const lineId = random.uuid();
      sale.lines.push({
        id: lineId,
        order_id: orderId,
        charge_id: charge.id,
        product_id: of.id,
        step_id: stepId ?? null,
        role,
        name: of.name,
        net_minor: net,
        tax_minor: tax,
        gross_minor: gross,
        rate_bp: taxBp,
        fee_minor: fee,
        discount_minor: discount,
      });
      journal("payment", lineId, paymentPostings({ net, tax, fee, currency: "EUR" }));
      if (!partner) continue;
      const { rule, rateBp } = commissionRateAt(partner.rateBp, plan.featured ?? [], paidAt);
      const minor = commissionOn(net, rateBp);
      const commissionId = random.uuid();
      sale.commissions.push({
        id: commissionId,
        line_id: lineId,
        partner_id: partner.id,
        level: 1,
        plan_id: partnerRatePlan.id,
        plan_version: partnerRatePlan.version,
        rule,
        base_minor: net,
        rate_bp: rateBp,
        minor,
        currency: "EUR",
        pending_until: pendingUntil(paidAt, of.refundDays),
      });
      journal("commission", lineId, commissionPostings(partner.id, minor, "EUR"), commissionId);
    }
  }
  return sale;
};

/** Writes sales under numbers that follow the orders there are, by their time. */
export const writeSales = async (tx: EntityManager, sales: DemoSale[], code?: string): Promise<void> => {
  sales.sort((a, b) => (a.order["placed_at"] as Date).getTime() - (b.order["placed_at"] as Date).getTime());
  const [start] = await tx.execute<{ n: string }[]>("select 1000 + count(*) as n from sale_order");
  await insert(
    tx,
    "sale_order",
    sales.map(({ order }, index) => ({ ...order, number: Number(start!.n) + 1 + index })),
  );
  await tx.execute("select setval('order_number', ?)", [Number(start!.n) + sales.length]);
  const [coupon] = code ? await tx.execute<{ id: string }[]>("select coupon_id as id from coupon_code where code = ?", [code]) : [];
  await insert(
    tx,
    "coupon_use",
    sales.flatMap(({ uses }) => uses.map((use) => ({ ...use, coupon_id: coupon!.id }))),
  );
  for (const [name, key] of [
    ["charge", "charges"],
    ["order_line", "lines"],
    ["commission", "commissions"],
    ["journal", "journals"],
    ["posting", "postings"],
    ["offer_decision", "decisions"],
  ] as const) {
    await insert(
      tx,
      name,
      sales.flatMap((sale) => sale[key]),
    );
  }
};
