import type { EntityManager } from "../orm";

const sums = {
  page_count: { keys: ["launch_id", "page", "variant"], of: ["people", "opted_in", "began", "paid"] },
  hour_count: { keys: ["launch_id", "kind", "hour", "country", "source"], of: ["people", "events"] },
} as const;

/**
 * Makes one row of each counter's differences. A row that comes meanwhile is left for the next time, and two that do this at
 * once each sum the rows that they took away.
 */
export const foldCounters = async (em: EntityManager): Promise<void> => {
  for (const [table, { keys, of }] of Object.entries(sums)) {
    const key = keys.join(", ");
    await em.execute(/* sql */ `
with many as (select ${key} from ${table} group by ${key} having count(*) > 1),
taken as (delete from ${table} c using many m where ${keys.map((one) => `c.${one} = m.${one}`).join(" and ")} returning c.*)
insert into ${table} (${key}, ${of.join(", ")}) select ${key}, ${of.map((one) => `sum(${one})`).join(", ")} from taken
group by ${key} having ${of.map((one) => `sum(${one}) <> 0`).join(" or ")}`);
  }
};
