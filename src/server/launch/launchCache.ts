import { Launch } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { perApp } from "../platform";
import { loadLaunch, type LaunchContext } from "./launchContext";

/** Launches by address, kept until the database says that one changed. Instants are judged per request, never cached. */
class LaunchCache {
  private kept = new Map<string, Promise<LaunchContext | undefined>>();
  private loaded = new Map<string, LaunchContext>();
  constructor(private readonly fork: () => EntityManager) {}

  bySlug(slug: string): Promise<LaunchContext | undefined> {
    const known = this.kept.get(slug);
    if (known) return known;
    const loading = loadLaunch(this.fork(), { slug });
    this.kept.set(slug, loading);
    // An unknown address must not fill the memory, and a failure must not be remembered.
    const forget = () => {
      if (this.kept.get(slug) === loading) this.kept.delete(slug);
    };
    loading.then((context) => {
      if (!context) forget();
      else if (this.kept.get(slug) === loading) this.loaded.set(slug, context);
    }, forget);
    return loading;
  }

  /** A launch by its id. Ask before a transaction begins: it may be read through a connection of its own. */
  async byId(id: string): Promise<LaunchContext | undefined> {
    for (const context of this.loaded.values()) if (context.launch.id === id) return context;
    const row = await this.fork().findOne(Launch, { id }, { fields: ["slug"] });
    return row ? this.bySlug(row.slug) : undefined;
  }

  /** The launch, where it is loaded already. */
  atHand(slug: string): LaunchContext | undefined {
    return this.loaded.get(slug);
  }

  clear(): void {
    this.kept = new Map();
    this.loaded = new Map();
  }
}

/** The launches that this process keeps at hand. */
export const launchesOf = perApp((app) => {
  const cache = new LaunchCache(() => app.fork());
  app.listener.on("launch_changed", () => cache.clear());
  return cache;
});
