import pg from "pg";

/** Channels on which processes tell one another that something changed. */
export type Channel = "launch_changed" | "test_clock" | "outbox" | "sold" | "vendor_changed";

/**
 * Listens on the database's channels and connects again when the server goes away. `onLost` runs at each
 * reconnection, because notifications may have been missed meanwhile.
 */
export class Listener {
  private client?: pg.Client;
  private closed = false;
  constructor(
    private readonly url: string,
    private readonly on: Partial<Record<Channel, (payload: string) => void>>,
    private readonly onLost: () => void,
  ) {}

  async start(): Promise<void> {
    const client = new pg.Client({ connectionString: this.url });
    // Without a listener an error of an idle connection would take the process down.
    client.on("error", () => client.end().catch(() => undefined));
    client.on("end", () => {
      if (!this.closed && this.client === client) setTimeout(() => void this.again(), 1000);
    });
    client.on("notification", ({ channel, payload }) => this.on[channel as Channel]?.(payload ?? ""));
    await client.connect();
    for (const channel of Object.keys(this.on)) await client.query(`listen ${channel}`);
    this.client = client;
  }

  private async again(): Promise<void> {
    if (this.closed) return;
    try {
      await this.start();
      this.onLost();
    } catch {
      setTimeout(() => void this.again(), 1000);
    }
  }

  async stop(): Promise<void> {
    this.closed = true;
    await this.client?.end();
  }
}
