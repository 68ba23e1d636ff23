import { perApp } from "../platform";

/**
 * Which version of a page a visitor sees, kept for those who come again so that the database is asked once. Another
 * process finds the same answer by itself: it follows from what is logged, and before that from a hash.
 */
class ArmCache {
  private kept = new Map<string, string>();
  constructor(private readonly most = 50_000) {}

  get(key: string): string | undefined {
    return this.kept.get(key);
  }

  set(key: string, variant: string): void {
    // The oldest goes first: a Map keeps the order in which keys came.
    if (this.kept.size >= this.most) this.kept.delete(this.kept.keys().next().value!);
    this.kept.set(key, variant);
  }
}

/** Which versions of pages this process has shown its visitors. */
export const armsOf = perApp(() => new ArmCache());
