import { type Fault, type Faults } from "../../core/words";
import { Partner, Product } from "../../store/tables";
import type { Refusal } from "../platform";
import { csvResponse, deskLocale, mustBeAllowed, required, typedAmount, wrongFields } from "../platform";
import { randomInt, randomUUID } from "node:crypto";
import { resolveWallTime } from "../../core/launch";
import { formatBasisPoints, formatMoney, type Locale } from "../../core/money";
import {
  basisPoints,
  couponRefusal,
  normaliseCode,
  type Coupon,
  type CouponRefusal,
  type CouponRequest,
  type CouponRow,
  type CouponUse,
} from "../../core/offers";
import type { DeskUser } from "../../store/tables";
import { addCoupon, codesOf, couponList, couponOfCode, endCoupon, usesOfCode, type CodeOfCoupon, type KnownCode } from "../../store/products/coupons";
import type { EntityManager } from "../../store/orm";

/** The coupon of a code as it is typed; undefined where there is none. */
export const couponOf = (em: EntityManager, typed: string): Promise<KnownCode | undefined> => couponOfCode(em, normaliseCode(typed));

/** Whether a code holds for a checkout at an instant: its coupon, or why not. */
export const judgeCoupon = async (
  em: EntityManager,
  typed: string,
  checkout: { id: string; personId: string },
  order: Pick<CouponUse, "at" | "currency" | "products">,
): Promise<{ known: KnownCode } | { refusal: CouponRefusal | "unknown" }> => {
  const known = await couponOf(em, typed);
  if (!known) return { refusal: "unknown" };
  if (known.stopped) return { refusal: "over" };
  const refusal = couponRefusal(known.coupon, { ...order, ...(await usesOfCode(em, known.code, checkout.personId, checkout.id)) });
  return refusal ? { refusal } : { known };
};

// Without letters and digits that are taken for one another.
const alphabet = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
const freshCode = (): string => Array.from({ length: 10 }, () => alphabet[randomInt(alphabet.length)]).join("");

/** Makes a coupon: one code for many, or so many codes that hold once each. */
export const makeCoupon = async (em: EntityManager, user: DeskUser, request: CouponRequest, now: Date): Promise<{ id: string }> => {
  mustBeAllowed(user, "coupon.edit");
  const wrong = (faults: Faults) => wrongFields("nothing_added", faults);
  const wall = (field: "from" | "until"): Date | null => {
    if (!request[field]) return null;
    const resolved = resolveWallTime(request[field], request.zone);
    if (!("instant" in resolved)) throw wrong({ [field]: { code: "moment_or_empty" } });
    return resolved.instant;
  };
  const [from, until] = [wall("from"), wall("until")];
  if (from && until && until <= from) throw wrong({ until: { code: "ends_before_begin" } });
  if (request.partner && !(await em.findOne(Partner, { id: request.partner }))) throw wrong({ partner: { code: "no_such_partner" } });
  const off = offOf(request.off, await deskLocale(em), wrong);
  const { codes } = request;
  return em.transactional(async (tx) => {
    const id = randomUUID();
    if (codes.kind === "shared" && (await couponOfCode(tx, codes.code))) throw wrong({ "codes.code": { code: "code_taken" } });
    const { label, products, partner: partnerId, oncePerPerson } = request;
    const uses = codes.kind === "shared" ? codes.uses : null;
    const made = codes.kind === "shared" ? [codes.code] : [...new Set(Array.from({ length: codes.count }, freshCode))];
    const coupon = { id, label, off, products, partnerId, from, until, uses, oncePerPerson, createdBy: user.id };
    await addCoupon(tx, coupon, made, codes.kind === "single", now);
    return { id };
  });
};

const offOf = (off: CouponRequest["off"], locale: Locale, wrong: (faults: Faults) => Refusal): Coupon["off"] => {
  if (off.kind === "percent") {
    const bp = basisPoints(off.percent);
    if (bp <= 0) throw wrong({ "off.percent": { code: "percent_zero" } });
    return { kind: "percent", bp };
  }
  const refuse = (fault: Fault) => wrong({ "off.amount": fault });
  const minor = typedAmount(off.amount, off.currency, locale, refuse);
  if (minor === 0) throw refuse({ code: "above_zero", currency: off.currency });
  return { kind: "amount", minor: { [off.currency]: minor } };
};

/** Ends a coupon at once, all its codes with it. Orders keep what they were given. */
export const stopCoupon = async (em: EntityManager, user: DeskUser, id: string, now: Date): Promise<void> => {
  mustBeAllowed(user, "coupon.edit");
  required((await endCoupon(em, id, now)) || undefined, "coupon");
};

const offWords = (off: Coupon["off"]): string =>
  off.kind === "percent"
    ? `${formatBasisPoints(off.bp)} off`
    : `${Object.entries(off.minor)
        .map(([currency, minor]) => formatMoney(minor!, currency))
        .join(" or ")} off`;

/** All coupons, the newest first. */
export const listCoupons = async (em: EntityManager): Promise<CouponRow[]> => {
  const rows = await couponList(em);
  const names = new Map((await em.find(Product, {}, { fields: ["id", "name"] })).map(({ id, name }) => [id, name]));
  const iso = (at: string | null) => (at === null ? null : new Date(at).toISOString());
  return rows.map((row) => ({
    id: row.id,
    label: row.label,
    off: offWords(row.off),
    code: row.shared,
    codes: Number(row.codes),
    uses: row.uses,
    used: Number(row.used),
    discount: row.discount ?? {},
    partner: row.partner,
    products: row.products?.map((id) => names.get(id) ?? "a product") ?? null,
    from: iso(row.from_at),
    until: iso(row.until_at),
    oncePerPerson: row.once_per_person,
    stopped: row.stopped_at !== null,
    made: iso(row.created_at)!,
    archived: row.archived_at !== null,
  }));
};

/** The codes of a coupon with the order that used each, as a CSV file. */
export const codeFile = (em: EntityManager, user: DeskUser, id: string): Response => {
  mustBeAllowed(user, "coupon.export");
  return csvResponse("codes.csv", ["code", "order", "at"], batches(em, id));
};

const atOnce = 5_000;

async function* batches(em: EntityManager, id: string): AsyncGenerator<CodeOfCoupon[]> {
  for (let after = ""; ;) {
    const codes = await codesOf(em, id, atOnce, after);
    if (codes.length > 0) yield codes;
    if (codes.length < atOnce) return;
    after = codes.at(-1)!.code;
  }
}
