import { Charge, type Checkout, type Contact } from "../tables";
import type { EntityManager } from "../orm";
import { prepared } from "../prepared";
import { touchesAsJson, type CreditedTouch } from "../partners/touchesOfPerson";

type Known =
  | "id"
  | "launchId"
  | "visitorId"
  | "personId"
  | "productId"
  | "test"
  | "country"
  | "region"
  | "browserCountry"
  | "vatNumber"
  | "recoveredThroughEmail"
  | "agreed";

/** Everything that is known of a charge before its result is written: what it is for, whose it is, and who may have sent them. */
export interface ChargeFacts {
  charge: Charge;
  checkout: Pick<Checkout, Known>;
  contact: Pick<Contact, "id" | "email"> | null;
  /** Of an order that is about to be placed; what comes after it keeps the order's partner. */
  touches: CreditedTouch[] | null;
}

/** What is a charge about? One statement, without a lock. */
export const chargeFacts = async (em: EntityManager, chargeId: string): Promise<ChargeFacts | undefined> => {
  const [row] = await prepared<ChargeFacts>(
    em,
    "charge_facts",
    `select to_jsonb(g) as charge, jsonb_build_object('id', k.id, 'launchId', k.launch_id, 'visitorId', k.visitor_id, 'personId', k.person_id, 'productId', k.product_id, 'test', k.test, 'country', k.country, 'region', k.region,
         'browserCountry', k.browser_country, 'vatNumber', k.vat_number, 'recoveredThroughEmail', k.recovered_through_email, 'agreed', k.agreed) as checkout,
       case when c.id is not null then jsonb_build_object('id', c.id, 'email', c.email) end as contact,
       case when g.step_id is null and g.recurring_payment_id is null then ${touchesAsJson("k.person_id", "k.launch_id", "c.email")} end as touches
     from charge g join checkout k on k.id = g.checkout_id left join contact c on c.id = k.contact_id where g.id = ?`,
    [chargeId],
  );
  return row && { ...row, charge: em.map(Charge, row.charge) };
};
