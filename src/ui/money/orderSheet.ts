import type { Account } from "../../core/money";
import { enoughEvidence, evidenceWords, lineRoles, lineWords, type ChargeState, type Evidence, type LineRole } from "../../core/offers";
import type { CommissionRule, CreditExplanation, TouchRejection } from "../../core/partners";
import { countryName } from "../../core/people";
import { counted, shortMoment } from "../../core/words";
import { formatBasisPoints, formatMoney } from "../kit/data/numbers";
import { accountName, lineNames, paymentStates } from "./words";

interface Line {
  id: string;
  role: LineRole;
  name: string;
  contents: { name: string }[];
  discountMinor: number;
  netMinor: number;
  taxMinor: number;
  grossMinor: number;
  rateBp: number;
}

interface Facts {
  zone: string;
  order: {
    currency: string;
    country: string;
    source: string;
    externalId?: string | null;
    evidence: Evidence[];
    reverseCharge: boolean;
    vatNumber?: string | null;
    credit: CreditExplanation;
  };
  lines: Line[];
  charges: {
    id: string;
    createdAt: Date;
    recurringPaymentId?: string | null;
    nth?: number | null;
    stepId?: string | null;
    state: ChargeState;
    declineCode?: string | null;
    amountMinor: number;
  }[];
  refunds: { id: string; askedAt: Date; state: "pending" | "succeeded" | "failed"; reason: string; amountMinor: number }[];
  disputes: { id: string; openedAt: Date; state: string; reason: string; amountMinor: number }[];
  postings: { journal: string; kind: string; line: string; account: string; partner: string | null; minor: number }[];
  commissions: { line: string; rule: CommissionRule; rateBp: number; minor: number; reversedMinor: number; pendingUntil: Date }[];
}

const rejections: Record<TouchRejection, string> = {
  replaced_by_later: "a later touch replaced it",
  outside_window: "older than the window",
  after_order: "came after the order",
  outranked_by_coupon: "the order used a partner's coupon, which outranks links",
  own_purchase: "a partner earns nothing on their own purchase",
};

// The processor is asked again by itself until it says what became of it.
const refundStates = { pending: "pending: the card processor has not answered yet, and is asked again", succeeded: "succeeded", failed: "failed" };

/** Who is credited with an order, and by which rule, in parts: the name stands out on screen. */
const creditWords = (credit: CreditExplanation): { partner?: string; rule: string; because: string } => {
  const { partnerName: partner, coupon, windowDays } = credit;
  if (coupon?.credited) return { partner, rule: "partner's coupon", because: `: the order used ${coupon.code}, which outranks links.` };
  const own = coupon ? ` The code ${coupon.code} is the buyer's own and earns nothing.` : "";
  return { partner, rule: "last touch", because: ` within ${counted(windowDays, "day")} before the order.${own}` };
};

/** An order as its screen says it: sums and instants in words, in the order's currency and the launch's zone. */
export const orderSheet = ({ zone, order, lines, charges, refunds, disputes, postings, commissions }: Facts) => {
  const money = (minor: number) => formatMoney(minor, order.currency).replace("-", "−");
  const moment = (at: Date | string) => shortMoment(new Date(at), zone);
  return {
    moment,
    lines: [...lines]
      .sort((a, b) => lineRoles.indexOf(a.role) - lineRoles.indexOf(b.role))
      .map((line) => ({
        id: line.id,
        name: lineWords(line),
        role: lineNames[line.role],
        discount: line.discountMinor > 0 ? money(line.discountMinor) : "",
        net: money(line.netMinor),
        tax: `${money(line.taxMinor)} at ${formatBasisPoints(line.rateBp)}`,
        gross: money(line.grossMinor),
      })),
    payments: charges.map((charge) => ({
      id: charge.id,
      at: moment(charge.createdAt),
      what: charge.recurringPaymentId ? `later payment ${charge.nth}` : charge.stepId ? "an offer" : "the checkout",
      outcome: paymentStates(charge.state, charge.declineCode),
      amount: money(charge.amountMinor),
    })),
    givenBack: [
      ...refunds.map((one) => ({ id: one.id, at: one.askedAt, what: `refund, ${refundStates[one.state]}`, why: one.reason, minor: one.amountMinor })),
      ...disputes.map((one) => ({
        id: one.id,
        at: one.openedAt,
        what: `dispute, ${one.state}`,
        why: one.reason.replaceAll("_", " "),
        minor: one.amountMinor,
      })),
    ]
      .sort((a, b) => a.at.getTime() - b.at.getTime())
      .map(({ id, at, what, why, minor }) => ({ id, at: moment(at), what, why, amount: money(minor) })),
    postings: postings.map(({ journal, kind, line, account, partner, minor }) => ({
      key: journal + account + (partner ?? ""),
      journal: `${kind.replaceAll("_", " ")}, ${line}`,
      account: partner ? `${accountName(account as Account)}: ${partner}` : accountName(account),
      debit: minor > 0 ? money(minor) : "",
      credit: minor < 0 ? money(-minor) : "",
    })),
    evidence: order.evidence.map(({ kind, country }) => `${countryName(country)}: ${evidenceWords[kind]}`),
    evidenceSays: [
      enoughEvidence(order.evidence, order.country)
        ? "Two pieces of evidence agree, as the rules of the EU ask (Regulation 282/2011, art. 24b)."
        : "Fewer than two pieces of evidence agree on this country.",
      ...(order.reverseCharge ? [`Reverse charge: ${order.vatNumber} accounts for the tax.`] : []),
    ].join(" "),
    credit: creditWords(order.credit),
    touches: order.credit.touches.map(({ partnerName, at, credited, rejected }) => ({
      partner: partnerName,
      at: moment(at),
      credited,
      says: credited ? "credited" : `not credited: ${rejections[rejected!]}`,
    })),
    commissions: commissions.map(({ line, rule, rateBp, minor, reversedMinor, pendingUntil }) =>
      [
        `${money(minor)} on ${line}, ${formatBasisPoints(rateBp)} of its net${rule === "featured_day" ? ", the rate of a featured day" : ""}.`,
        `Pending until ${moment(pendingUntil)}: the refund window and five days.`,
        ...(reversedMinor > 0 ? [`${money(reversedMinor)} of it was reversed with what the buyer got back.`] : []),
      ].join(" "),
    ),
    /** What was said when the order was entered, without the id that keeps it single. */
    enteredAs: order.source === "hand" ? order.externalId?.replace(/ \([0-9a-f-]{36}\)$/, "") : undefined,
  };
};
