import type { EntityManager } from "../orm";

/** Channels on which processes tell one another that something changed. */
export const channels = ["launch_changed", "test_clock", "sold", "vendor_changed"] as const;
export type Channel = (typeof channels)[number];

/** Tells every process; from the commit on, where a transaction is under way. */
export const notify = async (em: EntityManager, channel: Channel, payload = ""): Promise<void> => {
  await em.execute("select pg_notify(?, ?)", [channel, payload]);
};
