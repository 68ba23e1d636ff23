import { stages } from "../../core/events";
import type { Audience } from "../../core/retarget";
import type { EntityManager } from "../orm";

const column = (stage: string): string => {
  if (!(stages as readonly string[]).includes(stage)) throw new Error(`"${stage}" is no stage of the roll-up; the stages are ${stages.join(", ")}.`);
  return stage;
};

export interface AudienceCountry {
  country: string | null;
  people: number;
  /** People whose address is known, has agreed to letters, and has not taken that back. */
  addresses: number;
}

/** The people of an audience as it stood at an instant, country by country. */
export const audienceByCountry = async (em: EntityManager, launchId: string, audience: Audience, asOf: Date): Promise<AudienceCountry[]> => {
  const rows = await em.execute<{ country: string | null; people: string; addresses: string }[]>(
    `select coalesce(c.country, r.country) as country, count(*) as people, count(c.id) filter (where c.consent_at is not null and c.unsubscribed_at is null) as addresses
     from stage_rollup r left join contact c on c.person_id = r.person_id
     where r.launch_id = ? and r.${column(audience.did)} <= ? and (r.${column(audience.didNot)} is null or r.${column(audience.didNot)} > ?) group by 1 order by 2 desc, 1`,
    [launchId, asOf, asOf],
  );
  return rows.map((row) => ({ country: row.country, people: Number(row.people), addresses: Number(row.addresses) }));
};

/** Addresses of an audience that may be used (consent given and not taken back), in their order, behind `after`. */
export const audienceAddresses = async (
  em: EntityManager,
  launchId: string,
  audience: Audience,
  most: number,
  after = "",
): Promise<{ email: string; country: string | null }[]> =>
  em.execute(
    `select c.email, coalesce(c.country, r.country) as country from stage_rollup r join contact c on c.person_id = r.person_id
     where r.launch_id = ? and r.${column(audience.did)} is not null and r.${column(audience.didNot)} is null and c.consent_at is not null and c.unsubscribed_at is null
       and c.email > ? order by c.email limit ${Math.trunc(most)}`,
    [launchId, after],
  );
