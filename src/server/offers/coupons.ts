import { Partner } from "../../store/entities";
import { deskLocale, typedAmount } from "../app/typedAmount";
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
import type { DeskUser } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { required, Refusal } from "../app/refusal";
import { mustBeAllowed } from "../app/access";
import { csvResponse } from "../app/csv";

interface KnownCode {
  id: string;
  code: string;
  coupon: Coupon;
  stopped: boolean;
}

interface CodeRow {
  id: string;
  code: string;
  single: boolean;
  off: Coupon["off"];
  products: string[] | null;
  from_at: string | null;
  until_at: string | null;
  uses: number | null;
  once_per_person: boolean;
  stopped_at: string | null;
  archived_at: string | null;
  created_at: string;
}

/** The coupon of a code as it is typed; undefined where there is none. */
export const couponOf = async (em: EntityManager, typed: string): Promise<KnownCode | undefined> => {
  const [row] = await em.execute<CodeRow[]>("select c.*, k.code, k.single from coupon_code k join coupon c on c.id = k.coupon_id where k.code = ?", [
    normaliseCode(typed),
  ]);
  if (!row) return undefined;
  const instant = (at: string | null) => (at === null ? null : new Date(at));
  return {
    id: row.id,
    code: row.code,
    stopped: row.stopped_at !== null,
    coupon: {
      off: row.off,
      products: row.products,
      from: instant(row.from_at),
      until: instant(row.until_at),
      // A single code holds once, whatever the coupon allows in all.
      uses: row.single ? 1 : row.uses,
      oncePerPerson: row.once_per_person,
    },
  };
};

/** Orders that used a code, and payments under way with it, but for one checkout's own. */
const usesOf = async (em: EntityManager, code: string, personId: string, but: string): Promise<Pick<CouponUse, "used" | "usedByPerson">> => {
  const [row] = await em.execute<{ used: string; mine: string }[]>(
    `select (select count(*) from coupon_use where code = ?) + (select count(*) from charge where coupon = ? and state in ('pending', 'challenge') and checkout_id <> ?) as used,
       (select count(*) from coupon_use u join sale_order s on s.id = u.order_id where u.coupon_id = (select coupon_id from coupon_code where code = ?) and s.person_id = ?)
       + (select count(*) from charge g join checkout k on k.id = g.checkout_id join coupon_code o on o.code = g.coupon
          where o.coupon_id = (select coupon_id from coupon_code where code = ?) and g.state in ('pending', 'challenge') and k.person_id = ? and k.id <> ?) as mine`,
    [code, code, but, code, personId, code, personId, but],
  );
  return { used: Number(row!.used), usedByPerson: Number(row!.mine) };
};

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
  const refusal = couponRefusal(known.coupon, { ...order, ...(await usesOf(em, known.code, checkout.personId, checkout.id)) });
  return refusal ? { refusal } : { known };
};

// Without letters and digits that are taken for one another.
const alphabet = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
const freshCode = (): string => Array.from({ length: 10 }, () => alphabet[randomInt(alphabet.length)]).join("");

/** Makes a coupon: one code for many, or so many codes that hold once each. */
export const makeCoupon = async (em: EntityManager, user: DeskUser, request: CouponRequest, now: Date): Promise<{ id: string }> => {
  mustBeAllowed(user, "coupon.edit");
  const wrong = (fields: Record<string, string>) => new Refusal(422, "fields", "The coupon was not made.", fields);
  const wall = (field: "from" | "until"): Date | null => {
    if (!request[field]) return null;
    const resolved = resolveWallTime(request[field], request.zone);
    if (!("instant" in resolved)) throw wrong({ [field]: "Give a date and a time, or leave it empty." });
    return resolved.instant;
  };
  const [from, until] = [wall("from"), wall("until")];
  if (from && until && until <= from) throw wrong({ until: "It must end after it begins." });
  if (request.partner && !(await em.findOne(Partner, { id: request.partner }))) throw wrong({ partner: "There is no such partner any more." });
  const off = offOf(request.off, await deskLocale(em), wrong);
  const { codes } = request;
  return em.transactional(async (tx) => {
    const id = randomUUID();
    if (codes.kind === "shared" && (await tx.execute("select 1 from coupon_code where code = ?", [codes.code])).length > 0)
      throw wrong({ "codes.code": "This code is taken. Choose another." });
    await tx.execute(
      "insert into coupon (id, label, off, products, partner_id, from_at, until_at, uses, once_per_person, created_at, created_by) values (?, ?, ?::jsonb, ?::uuid[], ?, ?, ?, ?, ?, ?, ?)",
      [
        id,
        request.label,
        JSON.stringify(off),
        request.products && `{${request.products.join(",")}}`,
        request.partner,
        from,
        until,
        codes.kind === "shared" ? codes.uses : null,
        request.oncePerPerson,
        now,
        user.id,
      ],
    );
    const made = codes.kind === "shared" ? [codes.code] : [...new Set(Array.from({ length: codes.count }, freshCode))];
    await tx.execute(
      "insert into coupon_code (code, coupon_id, single) select c, ?, ? from jsonb_array_elements_text(?::jsonb) as c on conflict do nothing",
      [id, codes.kind === "single", JSON.stringify(made)],
    );
    return { id };
  });
};

const offOf = (off: CouponRequest["off"], locale: Locale, wrong: (fields: Record<string, string>) => Refusal): Coupon["off"] => {
  if (off.kind === "percent") {
    const bp = basisPoints(off.percent);
    if (bp <= 0) throw wrong({ "off.percent": "More than nothing, please." });
    return { kind: "percent", bp };
  }
  const refuse = (says: string) => wrong({ "off.amount": says });
  const minor = typedAmount(off.amount, off.currency, locale, refuse);
  if (minor === 0) throw refuse(`Give an amount above zero, such as ${formatMoney(1_700, off.currency, locale)}.`);
  return { kind: "amount", minor: { [off.currency]: minor } };
};

/** Ends a coupon at once, all its codes with it. Orders keep what they were given. */
export const stopCoupon = async (em: EntityManager, user: DeskUser, id: string, now: Date): Promise<void> => {
  mustBeAllowed(user, "coupon.edit");
  required((await em.execute("update coupon set stopped_at = coalesce(stopped_at, ?) where id = ? returning id", [now, id]))[0], "coupon");
};

const offWords = (off: Coupon["off"]): string =>
  off.kind === "percent"
    ? `${formatBasisPoints(off.bp)} off`
    : `${Object.entries(off.minor)
        .map(([currency, minor]) => formatMoney(minor!, currency))
        .join(" or ")} off`;

/** All coupons, the newest first. */
export const listCoupons = async (em: EntityManager): Promise<CouponRow[]> => {
  const rows = await em.execute<
    (CodeRow & {
      label: string;
      codes: string;
      shared: string | null;
      partner: string | null;
      used: string;
      discount: Record<string, number> | null;
    })[]
  >(
    `select c.*, k.codes, k.shared, p.name as partner, coalesce(u.used, 0) as used, u.discount from coupon c left join partner p on p.id = c.partner_id
     join (select coupon_id, count(*) as codes, min(code) filter (where not single) as shared from coupon_code group by 1) k on k.coupon_id = c.id
     left join (select coupon_id, sum(n) as used, jsonb_object_agg(currency, discount) as discount from (
       select coupon_id, currency, count(*) as n, sum(discount_minor) as discount from coupon_use group by 1, 2) as by_currency group by 1) u on u.coupon_id = c.id
     order by c.created_at desc`,
  );
  const names = new Map((await em.execute<{ id: string; name: string }[]>("select id, name from product")).map(({ id, name }) => [id, name]));
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

type CodeOfCoupon = { code: string; order: string; at: string };

/** Codes of a coupon in their order, behind `after`, with the order that used each. */
export const codesOf = async (em: EntityManager, id: string, most: number, after = ""): Promise<CodeOfCoupon[]> =>
  (
    await em.execute<{ code: string; number: string | null; at: string | null }[]>(
      `select k.code, s.number, u.at from coupon_code k left join coupon_use u on u.code = k.code left join sale_order s on s.id = u.order_id where k.coupon_id = ? and k.code > ? order by k.code limit ${Math.trunc(most)}`,
      [id, after],
    )
  ).map(({ code, number, at }) => ({ code, order: number ?? "", at: at ? new Date(at).toISOString() : "" }));
