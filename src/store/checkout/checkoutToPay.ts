import { Checkout, type Charge } from "../tables";
import type { EntityManager } from "../orm";
import { touchesAsJson, type CreditedTouch } from "../partners/touchesOfPerson";
import { prepared } from "../prepared";

/** A checkout whose pay button was pressed, with the charges that were tried, and whose its address and its browser are. */
export interface CheckoutToPay {
  checkout: Checkout;
  tried: Pick<Charge, "id" | "state">[];
  /** The contact of the address that is given, and whether this browser is known to be theirs. */
  contact: { id: string; email: string; personId: string; here: boolean } | null;
  /** Whose links brought this person to the launch, should they be that contact. */
  touches: CreditedTouch[];
}

/** What is to be paid, and by whom? The checkout is locked until the transaction ends. `email` is normalised. */
export const checkoutToPay = async (
  tx: EntityManager,
  checkout: Pick<Checkout, "id" | "launchId" | "visitorId" | "test">,
  email: string,
): Promise<CheckoutToPay | undefined> => {
  // Locked by a statement of its own: what this one reads beside the row it waits for is as old as its beginning.
  await prepared(tx, "lock_checkout", "select 1 from checkout where id = ? for update", [checkout.id]);
  const [row] = await prepared<CheckoutToPay>(
    tx,
    "checkout_to_pay",
    `select to_jsonb(k) as checkout,
       (select coalesce(jsonb_agg(jsonb_build_object('id', g.id, 'state', g.state)), '[]') from charge g where g.checkout_id = k.id and g.step_id is null and g.recurring_payment_id is null) as tried,
       (select jsonb_build_object('id', c.id, 'email', c.email, 'personId', c.person_id, 'here', exists (select 1 from visitor v where v.id = k.visitor_id and v.person_id = c.person_id))
        from contact a join contact c on c.id = coalesce(a.merged_into, a.id) where a.email = ? and a.test = ?) as contact,
       ${touchesAsJson("k.person_id", "k.launch_id", "?")} as touches
     from checkout k where k.id = ? and k.launch_id = ? and k.visitor_id = ?`,
    [email, checkout.test, email, checkout.id, checkout.launchId, checkout.visitorId],
  );
  // Mapped apart from the transaction's unit of work: what changes is written by name, not found out by comparing.
  return row && { ...row, checkout: tx.fork({ clear: true, freshEventManager: false }).map(Checkout, row.checkout) };
};
