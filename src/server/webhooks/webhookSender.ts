import { messageId, outcomeOf, triedForMs } from "../../core/webhooks";
import { sendWebhook } from "../../outside/webhooks";
import { claimMessages, switchOff, tookAnything, writeOutcome, type Claimed } from "../../store/webhooks/messages";
import { type App, describeError } from "../platform";

/** How many messages of one endpoint are on their way at a time: one that is slow holds up nobody but itself. */
const atOnce = 4;
/** Longer than a try can take. */
const leaseMs = 60_000;

/** Sends what is due, each endpoint beside the others. */
export class WebhookSender {
  private readonly busy: Record<string, number> = {};
  private readonly underWay = new Set<Promise<void>>();

  constructor(private readonly app: App) {}

  /** Takes up what is due and there are hands for, and does not wait for it. */
  async sendDue(): Promise<void> {
    const now = this.app.clock.now();
    const messages = await claimMessages(this.app.fork(), now, new Date(now.getTime() + leaseMs), { most: atOnce, busy: this.busy });
    for (const message of messages) {
      const { endpointId } = message;
      this.busy[endpointId] = (this.busy[endpointId] ?? 0) + 1;
      const sending = this.send(message)
        .catch((error: unknown) => this.app.log.error(describeError(error), "what became of a webhook is not known; it is sent again"))
        .finally(() => {
          this.busy[endpointId]! -= 1;
          this.underWay.delete(sending);
        });
      this.underWay.add(sending);
    }
  }

  private async send({ id, endpointId, url, secrets, body, tries }: Claimed): Promise<void> {
    const { app } = this;
    const sent = await sendWebhook({ url, id: messageId(id), body, secrets }, app.config.INKBELL_WEBHOOK_NETWORKS);
    const now = app.clock.now();
    const outcome = outcomeOf(sent, tries, now);
    const em = app.fork();
    await writeOutcome(em, { id, tries }, outcome, { status: sent.status, says: sent.says });
    if (outcome.is !== "failed") return;
    if (outcome.gone) await switchOff(em, endpointId, "gone");
    else if (!(await tookAnything(em, endpointId, new Date(now.getTime() - triedForMs)))) await switchOff(em, endpointId, "failing");
  }

  /** Waits for what is under way. */
  async stop(): Promise<void> {
    await Promise.all(this.underWay);
  }
}
