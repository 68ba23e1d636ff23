import type { DeskUser } from "../../store/tables";
import { couponEnded, deleteCouponRows, lockCoupon, setCouponArchived } from "../../store/products/coupons";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, Refusal, required } from "../platform";

/** Takes a coupon out of the list, or puts it back. It must have ended: a code that holds stays in sight. */
export const archiveCoupon = async (em: EntityManager, user: DeskUser, id: string, archived: boolean, now: Date): Promise<void> => {
  mustBeAllowed(user, "coupon.edit");
  const ended = required(await couponEnded(em, id), "coupon");
  if (archived && !ended) throw new Refusal({ code: "coupon_runs" });
  await setCouponArchived(em, id, archived ? now : null);
};

/** Deletes a coupon that nobody used, with its codes, for good. */
export const deleteCoupon = async (em: EntityManager, user: DeskUser, id: string): Promise<void> => {
  mustBeAllowed(user, "coupon.edit");
  await em.transactional(async (tx) => {
    const { used } = required(await lockCoupon(tx, id), "coupon");
    if (used) throw new Refusal({ code: "in_use", by: "coupon_used" });
    await deleteCouponRows(tx, id);
  });
};
