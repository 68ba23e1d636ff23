import type { EntityManager } from "../orm";
import type { CreditedTouch } from "../partners/touchesOfPerson";

/** A partner whose coupon an order used, with their rate, and whether they are the very buyer. */
export interface CouponOwner extends Pick<CreditedTouch, "partnerId" | "partnerName" | "rateBp" | "own"> {
  code: string;
}

/** Whose coupon is a code, where it is a partner's? */
export const couponOwner = async (em: EntityManager, code: string, email: string): Promise<CouponOwner | undefined> => {
  const [row] = await em.execute<{ id: string; name: string; rate_bp: number; own: boolean }[]>(
    `select p.id, p.name, p.rate_bp, p.email = ? as own from coupon_code k join coupon c on c.id = k.coupon_id join partner p on p.id = c.partner_id where k.code = ?`,
    [email, code],
  );
  return row && { code, partnerId: row.id, partnerName: row.name, rateBp: row.rate_bp, own: row.own };
};
