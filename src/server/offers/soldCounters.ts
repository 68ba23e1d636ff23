import type { Counters } from "../../core/launch";
import type { EntityManager } from "../../store/orm";
import type { LaunchBundle } from "../launch/bundle";
import { countersOf } from "./quote";

/**
 * The counters that public pages show, kept until the database says that something was sold. The checkout does not ask
 * here: it counts for itself, in its own transaction.
 */
export class SoldCounters {
  private kept = new Map<string, Promise<Counters>>();
  constructor(private readonly fork: () => EntityManager) {}

  of(bundle: LaunchBundle): Promise<Counters> {
    const { id } = bundle.launch;
    let counters = this.kept.get(id);
    if (!counters) {
      counters = countersOf(this.fork(), bundle);
      this.kept.set(id, counters);
      // A failure must not be remembered.
      counters.catch(() => this.kept.delete(id));
    }
    return counters;
  }

  forget(launchId: string): void {
    this.kept.delete(launchId);
  }

  clear(): void {
    this.kept.clear();
  }
}

/** Tells every process that something of a launch was sold. Call in the transaction of the sale. */
export const tellSold = (em: EntityManager, launchId: string): Promise<unknown> => em.execute("select pg_notify('sold', ?)", [launchId]);
