import type pg from "pg";

/** Puts so many people on the list of a launch, with addresses of a domain. */
export const loadList = async (pool: pg.Pool, launch: string, people: number, domain: string): Promise<void> => {
  const client = await pool.connect();
  await client.query("set synchronous_commit = off");
  await client.query(
    "create temp table listed as select gen_random_uuid() as person, gen_random_uuid() as contact, n, now() - random() * interval '9 days' as at from generate_series(1, $1::int) as n",
    [people],
  );
  await client.query("insert into person (id, created_at) select person, at from listed");
  await client.query(
    `insert into contact (id, person_id, email, first_name, consent_text, consent_at, proven_at, created_at, guessed_zone)
     select contact, person, 'p' || n || '@' || $1, 'Name', 'Yes.', at, at, at, (array['Europe/Lisbon', 'Europe/Berlin', 'America/New_York'])[1 + n % 3] from listed`,
    [domain],
  );
  await client.query("insert into stage_rollup (launch_id, person_id, visited, opted_in) select $1, person, at, at from listed", [launch]);
  client.release(true);
  await pool.query("vacuum analyze");
};
