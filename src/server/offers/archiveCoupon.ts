import type { DeskUser } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { required, Refusal } from "../app/refusal";
import { mustBeAllowed } from "../app/access";

/** Takes a coupon out of the list, or puts it back. It must have ended: a code that holds stays in sight. */
export const archiveCoupon = async (em: EntityManager, user: DeskUser, id: string, archived: boolean, now: Date): Promise<void> => {
  mustBeAllowed(user, "coupon.edit");
  const row = required((await em.execute<{ stopped_at: string | null }[]>("select stopped_at from coupon where id = ?", [id]))[0], "coupon");
  if (archived && row.stopped_at === null) throw new Refusal(409, "holds", "This coupon still holds. End it first.");
  await em.execute("update coupon set archived_at = ? where id = ?", [archived ? now : null, id]);
};

/** Deletes a coupon that nobody used, with its codes, for good. */
export const deleteCoupon = async (em: EntityManager, user: DeskUser, id: string): Promise<void> => {
  mustBeAllowed(user, "coupon.edit");
  await em.transactional(async (tx) => {
    required((await tx.execute("select 1 from coupon where id = ? for update", [id]))[0], "coupon");
    const uses = await tx.execute(
      `select 1 from coupon_code k where k.coupon_id = ? and (exists (select from coupon_use u where u.code = k.code)
         or exists (select from checkout c where c.coupon = k.code) or exists (select from charge g where g.coupon = k.code) or exists (select from visitor_coupon v where v.code = k.code)) limit 1`,
      [id],
    );
    if (uses.length > 0) throw new Refusal(409, "in_use", "Somebody used this coupon. End it and archive it instead.");
    await tx.execute("delete from coupon_code where coupon_id = ?", [id]);
    await tx.execute("delete from coupon where id = ?", [id]);
  });
};
