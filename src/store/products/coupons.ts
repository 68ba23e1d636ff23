import type { Coupon, CouponUse } from "../../core/offers";
import type { EntityManager } from "../orm";

export interface KnownCode {
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

/** A coupon in the list of all, with what came of it. */
export type ListedCoupon = CodeRow & {
  label: string;
  codes: string;
  /** The code of all, where there is one for many. */
  shared: string | null;
  partner: string | null;
  used: string;
  /** What it took off, in minor units by currency. */
  discount: Record<string, number> | null;
};

/** The coupon of a code; undefined where there is none. */
export const couponOfCode = async (em: EntityManager, code: string): Promise<KnownCode | undefined> => {
  const [row] = await em.execute<CodeRow[]>("select c.*, k.code, k.single from coupon_code k join coupon c on c.id = k.coupon_id where k.code = ?", [
    code,
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
export const usesOfCode = async (
  em: EntityManager,
  code: string,
  personId: string,
  but: string,
): Promise<Pick<CouponUse, "used" | "usedByPerson">> => {
  const [row] = await em.execute<{ used: string; mine: string }[]>(
    `select (select count(*) from coupon_use where code = ?) + (select count(*) from charge where coupon = ? and state in ('pending', 'challenge') and checkout_id <> ?) as used,
       (select count(*) from coupon_use u join sale_order s on s.id = u.order_id where u.coupon_id = (select coupon_id from coupon_code where code = ?) and s.person_id = ?)
       + (select count(*) from charge g join checkout k on k.id = g.checkout_id join coupon_code o on o.code = g.coupon
          where o.coupon_id = (select coupon_id from coupon_code where code = ?) and g.state in ('pending', 'challenge') and k.person_id = ? and k.id <> ?) as mine`,
    [code, code, but, code, personId, code, personId, but],
  );
  return { used: Number(row!.used), usedByPerson: Number(row!.mine) };
};

export interface NewCoupon {
  id: string;
  label: string;
  off: Coupon["off"];
  products: string[] | null;
  partnerId: string | null;
  from: Date | null;
  until: Date | null;
  uses: number | null;
  oncePerPerson: boolean;
  createdBy: string;
}

/** Keeps a coupon and its codes; a code that is taken is left out. `single` codes hold once each. */
export const addCoupon = async (tx: EntityManager, coupon: NewCoupon, codes: string[], single: boolean, now: Date): Promise<void> => {
  await tx.execute(
    "insert into coupon (id, label, off, products, partner_id, from_at, until_at, uses, once_per_person, created_at, created_by) values (?, ?, ?::jsonb, ?::uuid[], ?, ?, ?, ?, ?, ?, ?)",
    [
      coupon.id,
      coupon.label,
      JSON.stringify(coupon.off),
      coupon.products && `{${coupon.products.join(",")}}`,
      coupon.partnerId,
      coupon.from,
      coupon.until,
      coupon.uses,
      coupon.oncePerPerson,
      now,
      coupon.createdBy,
    ],
  );
  await tx.execute(
    "insert into coupon_code (code, coupon_id, single) select c, ?, ? from jsonb_array_elements_text(?::jsonb) as c on conflict do nothing",
    [coupon.id, single, JSON.stringify(codes)],
  );
};

/** Ends a coupon; one that has ended keeps its instant. Answers whether there is such a coupon. */
export const endCoupon = async (em: EntityManager, id: string, now: Date): Promise<boolean> =>
  (await em.execute<object[]>("update coupon set stopped_at = coalesce(stopped_at, ?) where id = ? returning id", [now, id])).length > 0;

/** All coupons, the newest first. */
export const couponList = (em: EntityManager): Promise<ListedCoupon[]> =>
  em.execute<ListedCoupon[]>(
    `select c.*, k.codes, k.shared, p.name as partner, coalesce(u.used, 0) as used, u.discount from coupon c left join partner p on p.id = c.partner_id
     join (select coupon_id, count(*) as codes, min(code) filter (where not single) as shared from coupon_code group by 1) k on k.coupon_id = c.id
     left join (select coupon_id, sum(n) as used, jsonb_object_agg(currency, discount) as discount from (
       select coupon_id, currency, count(*) as n, sum(discount_minor) as discount from coupon_use group by 1, 2) as by_currency group by 1) u on u.coupon_id = c.id
     order by c.created_at desc`,
  );

/** A code with the number of the order that used it and when; both are empty where none did. */
export type CodeOfCoupon = { code: string; order: string; at: string };

/** Codes of a coupon in their order, behind `after`, with the order that used each. */
export const codesOf = async (em: EntityManager, id: string, most: number, after = ""): Promise<CodeOfCoupon[]> => {
  const rows = await em.execute<{ code: string; number: string | null; at: string | null }[]>(
    `select k.code, s.number, u.at from coupon_code k left join coupon_use u on u.code = k.code left join sale_order s on s.id = u.order_id where k.coupon_id = ? and k.code > ? order by k.code limit ${Math.trunc(most)}`,
    [id, after],
  );
  return rows.map(({ code, number, at }) => ({ code, order: number ?? "", at: at ? new Date(at).toISOString() : "" }));
};

/** Whether a coupon has ended; undefined where there is none. */
export const couponEnded = async (em: EntityManager, id: string): Promise<boolean | undefined> => {
  const [row] = await em.execute<{ stopped_at: string | null }[]>("select stopped_at from coupon where id = ?", [id]);
  return row && row.stopped_at !== null;
};

/** Takes a coupon out of the list from an instant on; null puts it back. */
export const setCouponArchived = async (em: EntityManager, id: string, at: Date | null): Promise<void> => {
  await em.execute("update coupon set archived_at = ? where id = ?", [at, id]);
};

/** Holds a coupon until the transaction ends. Answers whether there is one, and whether anybody has used or kept a code of it. */
export const lockCoupon = async (tx: EntityManager, id: string): Promise<{ used: boolean } | undefined> => {
  const rows = await tx.execute<object[]>("select 1 from coupon where id = ? for update", [id]);
  if (rows.length === 0) return undefined;
  const uses = await tx.execute<object[]>(
    `select 1 from coupon_code k where k.coupon_id = ? and (exists (select from coupon_use u where u.code = k.code)
       or exists (select from checkout c where c.coupon = k.code) or exists (select from charge g where g.coupon = k.code) or exists (select from visitor_coupon v where v.code = k.code)) limit 1`,
    [id],
  );
  return { used: uses.length > 0 };
};

/** Deletes a coupon with its codes. */
export const deleteCouponRows = async (tx: EntityManager, id: string): Promise<void> => {
  await tx.execute("delete from coupon_code where coupon_id = ?", [id]);
  await tx.execute("delete from coupon where id = ?", [id]);
};

/** Holds the coupon of a code until the transaction ends, so that it is not used once too often. */
export const lockCouponOf = async (tx: EntityManager, code: string): Promise<void> => {
  await tx.execute("select 1 from coupon where id = (select coupon_id from coupon_code where code = ?) for update", [code]);
};
