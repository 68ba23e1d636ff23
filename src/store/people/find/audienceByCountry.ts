import type { ConditionScope } from "../../../core/conditions";
import type { Audience } from "../../../core/retarget";
import type { EntityManager } from "../../orm";
import { conditionSql, peopleIn } from "./conditionSql";

export interface AudienceCountry {
  country: string | null;
  people: number;
  /** People whose address is known, has agreed to emails, and has not taken that back. */
  addresses: number;
}

/** The people of an audience as it stands, or stood at an instant of the past, country by country. */
export const audienceByCountry = async (
  em: EntityManager,
  scope: ConditionScope & { launchId: string },
  audience: Audience,
): Promise<AudienceCountry[]> => {
  const [people, { sql, values }] = [peopleIn(scope), conditionSql(audience.condition, scope)];
  const rows = await em.execute<{ country: string | null; people: string; addresses: string }[]>(
    `select coalesce(c.country, p.country) as country, count(*) as people, count(c.id) filter (where c.consent_at is not null and c.unsubscribed_at is null) as addresses
     from ${people.sql} left join contact c on c.person_id = p.id where ${sql} group by 1 order by 2 desc, 1`,
    [...people.values, ...values],
  );
  return rows.map((row) => ({ country: row.country, people: Number(row.people), addresses: Number(row.addresses) }));
};

/** Addresses of an audience that may be used (consent given and not taken back), in their order, behind `after`. */
export const audienceAddresses = async (
  em: EntityManager,
  scope: ConditionScope & { launchId: string },
  audience: Audience,
  most: number,
  after = "",
): Promise<{ email: string; country: string | null }[]> => {
  const [people, { sql, values }] = [peopleIn(scope), conditionSql(audience.condition, scope)];
  return em.execute(
    `select c.email, coalesce(c.country, p.country) as country from ${people.sql} join contact c on c.person_id = p.id
     where ${sql} and c.consent_at is not null and c.unsubscribed_at is null and c.email > ? order by c.email limit ${Math.trunc(most)}`,
    [...people.values, ...values, after],
  );
};
