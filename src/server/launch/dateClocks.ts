import { personalWindows } from "../../core/launch";
import { dateStarts, launchesToDate, startsToDate } from "../../store/launch/clockEnds";
import type { App } from "../platform";
import { loadLaunch } from "./launchContext";

const slice = 2_000;

/** Finds out when the runs of people's own clocks end, of those that began or may have changed: what follows an end asks the database for it. */
export const dateClocks = async (app: App): Promise<void> => {
  for (const launchId of await launchesToDate(app.fork())) {
    const context = await loadLaunch(app.fork(), { id: launchId });
    if (!context) continue;
    const { clock, zone } = context.plan;
    const some = () =>
      app.fork().transactional(async (tx) => {
        const starts = await startsToDate(tx, launchId, slice);
        const instants = new Map<string, Date[]>();
        for (const { personId, at } of starts) instants.set(personId, [...(instants.get(personId) ?? []), at]);
        const closing = (personId: string, start: Date): Date | undefined =>
          clock.kind === "personal"
            ? personalWindows(clock, zone, instants.get(personId)!).find(({ opens }) => opens.getTime() === start.getTime())?.closes
            : undefined;
        const ends = starts.map(({ id, personId, at }) => ({ id, endsAt: closing(personId, at) ?? null }));
        await dateStarts(tx, ends, app.clock.now());
        return starts.length;
      });
    while ((await some()) > 0);
  }
};
