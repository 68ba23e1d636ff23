import type { EntityManager } from "../orm";

/** A visit through a partner's link, with its partner's rate, and whether the partner is the very person. */
export interface CreditedTouch {
  id: string;
  partnerId: string;
  partnerName: string;
  rateBp: number;
  at: string;
  own: boolean;
}

/** A JSON list of a person's touches of a launch, for a statement that names the three. */
export const touchesAsJson = (personId: string, launchId: string, email: string): string => /* sql */ `(
  select coalesce(jsonb_agg(jsonb_build_object('id', t.id, 'partnerId', t.partner_id, 'partnerName', p.name, 'rateBp', p.rate_bp, 'at', t.at, 'own', p.email is not distinct from ${email})), '[]')
  from touch_person tp join touch t on t.id = tp.touch_id join partner p on p.id = t.partner_id where tp.person_id = ${personId} and t.launch_id = ${launchId})`;

/** Whose links brought a person to a launch? */
export const touchesOfPerson = async (em: EntityManager, launchId: string, personId: string, email: string): Promise<CreditedTouch[]> => {
  const [row] = await em.execute<{ touches: CreditedTouch[] }[]>(`select ${touchesAsJson("?::uuid", "?::uuid", "?")} as touches`, [
    email,
    personId,
    launchId,
  ]);
  return row!.touches;
};
