import type { EntityManager } from "../orm";

export interface LaunchComment {
  id: string;
  page: string;
  name: string;
  body: string;
  at: Date;
  state: "waiting" | "shown" | "hidden";
  reply: string;
}

/** What was said on the pages of a launch, those that wait to be read first, then the newest; the first 500. */
export const launchComments = async (em: EntityManager, launchId: string): Promise<LaunchComment[]> => {
  const rows = await em.execute<(Omit<LaunchComment, "at"> & { at: string })[]>(
    "select id, page, name, body, at, state, reply from page_comment where launch_id = ? order by state <> 'waiting', at desc limit 500",
    [launchId],
  );
  return rows.map((row) => ({ ...row, at: new Date(row.at) }));
};

/** How many comments of a launch wait to be read. */
export const waitingComments = async (em: EntityManager, launchId: string): Promise<number> => {
  const [row] = await em.execute<{ n: string }[]>("select count(*) as n from page_comment where launch_id = ? and state = 'waiting'", [launchId]);
  return Number(row!.n);
};
