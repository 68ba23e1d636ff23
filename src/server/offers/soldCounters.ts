import { notify } from "../../store/platform/notify";
import { soldCounts } from "../../store/launch/soldCounts";
import type { Counters } from "../../core/launch";
import type { EntityManager } from "../../store/orm";
import { perApp } from "../platform";
import type { LaunchContext } from "../launch";

const counts = ({ settings }: LaunchContext["plan"]): boolean => settings.rising !== null || settings.seats !== null;

/** The true counters of a launch: lines of its main product that were paid, and seats as the checkout counts them. Counted only where a price or a seat hangs on them. */
export const countersOf = async (em: EntityManager, { plan, launch, product }: LaunchContext): Promise<Counters> =>
  counts(plan) ? soldCounts(em, launch.id, product.id) : { sold: 0 };

/** A word that was lost, as with a process that died between the sale and the telling, is made good after so long. */
const mostMs = 5_000;

/**
 * The counters that public pages show, kept for a moment, or until the database says that something was sold. The checkout does not ask
 * here: it counts for itself, in its own transaction.
 */
class SoldCounters {
  private kept = new Map<string, Promise<Counters>>();
  private counted = new Map<string, { found: Counters; until: number }>();
  /** By launch: the word that is on its way, and the one that goes after it. */
  private notifying = new Map<string, Promise<unknown>>();
  private waiting = new Map<string, Promise<void>>();
  constructor(private readonly fork: () => EntityManager) {}

  of(context: LaunchContext): Promise<Counters> {
    const { id } = context.launch;
    const known = this.counted.get(id);
    let counters = known && performance.now() > known.until ? undefined : this.kept.get(id);
    if (!counters) {
      counters = countersOf(this.fork(), context);
      this.kept.set(id, counters);
      const counting = counters;
      counting.then(
        (found) => {
          if (this.kept.get(id) === counting) this.counted.set(id, { found, until: performance.now() + mostMs });
        },
        // A failure must not be remembered.
        () => this.kept.delete(id),
      );
    }
    return counters;
  }

  /**
   * Tells every process that something of a launch was sold, after the commit. Words of one launch go one after the other,
   * because the database lets only one through at a time: those that come meanwhile go together as the next one.
   */
  notify(context: Pick<LaunchContext, "plan" | "launch">): Promise<void> {
    const { id } = context.launch;
    const next =
      this.waiting.get(id) ??
      (this.notifying.get(id) ?? Promise.resolve()).then(async () => {
        this.waiting.delete(id);
        // A word that is lost is made good soon: the sale stands.
        const told = notifySold(this.fork(), context).catch(() => undefined);
        this.notifying.set(id, told);
        await told;
        if (this.notifying.get(id) === told) this.notifying.delete(id);
      });
    this.waiting.set(id, next);
    return next;
  }

  /** The counters, where they are counted already. */
  atHand({ launch }: LaunchContext): Counters | undefined {
    const known = this.counted.get(launch.id);
    return known && performance.now() <= known.until ? known.found : undefined;
  }

  forget(launchId: string): void {
    this.kept.delete(launchId);
    this.counted.delete(launchId);
  }

  clear(): void {
    this.kept.clear();
    this.counted.clear();
  }
}

/**
 * Tells every process that something of a launch was sold, where a price or a seat hangs on it. Within a transaction it is
 * told at the commit, and commits wait for one another.
 */
export const notifySold = async (em: EntityManager, { plan, launch }: Pick<LaunchContext, "plan" | "launch">): Promise<void> => {
  if (counts(plan)) await notify(em, "sold", launch.id);
};

/** The counters that this process keeps for a moment. */
export const countersFor = perApp((app) => {
  const counters = new SoldCounters(() => app.fork());
  app.listener.on("sold", (launchId) => (launchId ? counters.forget(launchId) : counters.clear()));
  app.listener.on("launch_changed", () => counters.clear());
  return counters;
});
