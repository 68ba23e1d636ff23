import { channels, type Channel } from "../../store/platform/notify";
import pg from "pg";

/** Hears what was said on a channel; without a payload where words may have been missed. */
type Heard = (payload?: string) => void;

/** Listens on the database's channels, and connects again when the server goes away: whoever listens hears of that too. */
export class Listener {
  private client?: pg.Client;
  private closed = false;
  private readonly heard = new Map<Channel, Heard[]>(channels.map((channel) => [channel, []]));
  constructor(private readonly url: string) {}

  /** Has `then` hear what is said on a channel from now on. */
  on(channel: Channel, then: Heard): void {
    this.heard.get(channel)!.push(then);
  }

  async start(): Promise<void> {
    const client = new pg.Client({ connectionString: this.url });
    // Without a listener an error of an idle connection would take the process down.
    client.on("error", () => client.end().catch(() => undefined));
    client.on("end", () => {
      if (!this.closed && this.client === client) setTimeout(() => void this.again(), 1000);
    });
    client.on("notification", ({ channel, payload }) => this.heard.get(channel as Channel)?.forEach((then) => then(payload ?? "")));
    await client.connect();
    for (const channel of channels) await client.query(`listen ${channel}`);
    this.client = client;
  }

  private async again(): Promise<void> {
    if (this.closed) return;
    try {
      await this.start();
      for (const all of this.heard.values()) for (const then of all) then();
    } catch {
      setTimeout(() => void this.again(), 1000);
    }
  }

  async stop(): Promise<void> {
    this.closed = true;
    await this.client?.end();
  }
}
