import { mergeRollups } from "../../events/rollups";
import type { EntityManager } from "../../orm";
import { shareTouches } from "../persons";

/** Starts of clocks that count for two people, by launch. */
export interface StartsOfPerson {
  launchId: string;
  personId: string;
  starts: Date[];
}

/** When clocks were started for either of two people; starts that count no more are left out. */
export const startsOfBoth = async (em: EntityManager, one: string, other: string): Promise<StartsOfPerson[]> => {
  const rows = await em.execute<{ launch_id: string; person_id: string; starts: string[] }[]>(
    `select launch_id, person_id, array_agg(to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') order by at) as starts from clock_start
     where person_id in (?, ?) and not superseded group by 1, 2`,
    [one, other],
  );
  return rows.map(({ launch_id, person_id, starts }) => ({ launchId: launch_id, personId: person_id, starts: starts.map((at) => new Date(at)) }));
};

/** A person's starts of a launch's clock count no more. */
export const supersedeStarts = async (em: EntityManager, launchId: string, personId: string): Promise<void> => {
  await em.execute("update clock_start set superseded = true where launch_id = ? and person_id = ?", [launchId, personId]);
};

/** Makes all that hangs on one person the other's: roll-ups, visitors, touches, checkouts, comments. */
export const mergeTraces = async (em: EntityManager, from: string, into: string): Promise<void> => {
  await mergeRollups(em, from, into);
  await em.execute("update visitor set person_id = ? where person_id = ?", [into, from]);
  await shareTouches(em, from, into);
  await em.execute("delete from touch_person where person_id = ?", [from]);
  await em.execute("update checkout set person_id = ? where person_id = ?", [into, from]);
  await em.execute("update webhook_message set person_id = ? where person_id = ?", [into, from]);
  await em.execute("update page_comment set person_id = ? where person_id = ?", [into, from]);
};

/** Makes one person's clocks the other's, as they count by now, and the one person the other from then on. */
export const mergeClocks = async (em: EntityManager, from: string, into: string): Promise<void> => {
  await em.execute(
    `insert into clock_start (id, launch_id, person_id, visitor_id, at, trigger, superseded)
     select gen_random_uuid(), launch_id, ?, visitor_id, at, trigger, superseded from clock_start where person_id = ? on conflict do nothing`,
    [into, from],
  );
  await em.execute("delete from clock_start where person_id = ?", [from]);
  // What either began may have begun nothing for both.
  await em.execute("update clock_start set dated_at = null where person_id = ?", [into]);
  await em.execute(
    `insert into clock_stop as s (launch_id, person_id, at, because, handed_to) select launch_id, ?, at, because, handed_to from clock_stop where person_id = ?
     on conflict (launch_id, person_id) do update set at = least(s.at, excluded.at)`,
    [into, from],
  );
  await em.execute("delete from clock_stop where person_id = ?", [from]);
  // Whoever had been merged into the one is the other as well: one step leads to who somebody is.
  await em.execute("update person set merged_into = ? where id = ? or merged_into = ?", [into, from, from]);
};
