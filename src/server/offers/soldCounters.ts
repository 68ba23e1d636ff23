import type { Counters } from "../../core/launch";
import type { EntityManager } from "../../store/orm";
import type { LaunchBundle } from "../launch/bundle";

/** The true counter of a launch's main product: lines that were paid. Counted only where a price or a seat hangs on it. */
export const countersOf = async (em: EntityManager, { plan, launch, product }: LaunchBundle): Promise<Counters> => {
  if (!plan.settings.rising && plan.settings.seats === null) return { sold: 0 };
  const [row] = await em.execute<{ n: string }[]>(
    "select coalesce(sum(n.quantity), 0) as n from order_line n join sale_order s on s.id = n.order_id where s.launch_id = ? and n.product_id = ? and n.role = 'front' and not s.test",
    [launch.id, product.id],
  );
  return { sold: Number(row!.n) };
};

/**
 * The counters that public pages show, kept until the database says that something was sold. The checkout does not ask
 * here: it counts for itself, in its own transaction.
 */
export class SoldCounters {
  private kept = new Map<string, Promise<Counters>>();
  private counted = new Map<string, Counters>();
  constructor(private readonly fork: () => EntityManager) {}

  of(bundle: LaunchBundle): Promise<Counters> {
    const { id } = bundle.launch;
    let counters = this.kept.get(id);
    if (!counters) {
      counters = countersOf(this.fork(), bundle);
      this.kept.set(id, counters);
      const counting = counters;
      counting.then(
        (found) => {
          if (this.kept.get(id) === counting) this.counted.set(id, found);
        },
        // A failure must not be remembered.
        () => this.kept.delete(id),
      );
    }
    return counters;
  }

  /** The counters, where they are counted already. */
  atHand({ launch }: LaunchBundle): Counters | undefined {
    return this.counted.get(launch.id);
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

/** Tells every process that something of a launch was sold. Call in the transaction of the sale. */
export const tellSold = (em: EntityManager, launchId: string): Promise<unknown> => em.execute("select pg_notify('sold', ?)", [launchId]);
