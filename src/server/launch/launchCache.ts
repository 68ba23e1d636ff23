import type { EntityManager } from "../../store/orm";
import { loadBundle, type LaunchBundle } from "./bundle";

/** Launches by address, kept until the database says that one changed. Instants are judged per request, never cached. */
export class LaunchCache {
  private kept = new Map<string, Promise<LaunchBundle | undefined>>();
  private loaded = new Map<string, LaunchBundle>();
  constructor(private readonly fork: () => EntityManager) {}

  bySlug(slug: string): Promise<LaunchBundle | undefined> {
    const known = this.kept.get(slug);
    if (known) return known;
    const loading = loadBundle(this.fork(), { slug });
    this.kept.set(slug, loading);
    // An unknown address must not fill the memory, and a failure must not be remembered.
    const forget = () => {
      if (this.kept.get(slug) === loading) this.kept.delete(slug);
    };
    loading.then((bundle) => {
      if (!bundle) forget();
      else if (this.kept.get(slug) === loading) this.loaded.set(slug, bundle);
    }, forget);
    return loading;
  }

  /** A launch by its id. Ask before a transaction begins: it may be read through a connection of its own. */
  async byId(id: string): Promise<LaunchBundle | undefined> {
    for (const bundle of this.loaded.values()) if (bundle.launch.id === id) return bundle;
    const [row] = await this.fork().execute<{ slug: string }[]>("select slug from launch where id = ?", [id]);
    return row && this.bySlug(row.slug);
  }

  /** The launch, where it is loaded already. */
  atHand(slug: string): LaunchBundle | undefined {
    return this.loaded.get(slug);
  }

  clear(): void {
    this.kept = new Map();
    this.loaded = new Map();
  }
}
