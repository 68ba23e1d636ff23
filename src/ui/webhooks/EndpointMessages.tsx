import { useState } from "react";
import { listWebhookMessages, resendWebhookMessage, type WebhookMessageRow } from "../../contract/webhooks";
import type { MessageState } from "../../core/webhooks";
import { fullMoment } from "../../core/words";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { useRead } from "../kit/data/useRead";
import { Select } from "../kit/fields/Select";
import { say } from "../kit/notices";
import { messageWords } from "./webhookWords";
import styles from "./webhooks.module.css";

interface Props {
  endpoint: string;
  host: string;
  zone: string;
  onChanged: () => void;
}

const states = [
  { value: "", label: "all" },
  { value: "due", label: "those that wait" },
  { value: "delivered", label: "those that arrived" },
  { value: "failed", label: "those that failed" },
] as const;
const atOnce = 50;

const pretty = (body: string): string => JSON.stringify(JSON.parse(body), undefined, 2);

/** What an endpoint was told, the newest first, each with what was answered and its whole body. */
export const EndpointMessages = ({ endpoint, host, zone, onChanged }: Props) => {
  const [state, setState] = useState<MessageState | "">("");
  const [most, setMost] = useState(atOnce);
  const request = { most, ...(state === "" ? {} : { state }) };
  const { value, again } = useRead(listWebhookMessages, { params: { id: endpoint }, request }, { everyMs: () => 3_000 });
  const resend = async ({ id, messageId }: WebhookMessageRow) => {
    const answer = await call(resendWebhookMessage, { params: { id } });
    if (!answer.ok) return say(answer.message, true);
    say(`${messageId} goes out again.`);
    again();
    onChanged();
  };
  return (
    <section aria-labelledby="messages">
      <h3 id="messages">Messages to {host}</h3>
      <Select label="Show" value={state} options={states} onChange={setState} />
      {value && (
        <p className="muted" role="status">
          {value.all === 0 ? "None." : `${value.messages.length} of ${value.all}, the newest first.`}
        </p>
      )}
      <ol className={styles.messages}>
        {value?.messages.map((message) => (
          <li key={message.id}>
            <p className={styles.line}>
              <b>{message.type}</b>
              <span>{fullMoment(message.happenedAt, zone)}</span>
              <span className={message.state === "failed" ? styles.off : "muted"}>{messageWords(message, zone)}</span>
            </p>
            {message.says && message.state !== "delivered" && <p className={`muted ${styles.says}`}>{message.says}</p>}
            <details>
              <summary>
                What it says <span className="muted">{message.messageId}</span>
              </summary>
              <pre tabIndex={0} role="region" aria-label={`Body of ${message.messageId}`}>
                {pretty(message.body)}
              </pre>
              <Button onClick={() => void resend(message)}>Send it again</Button>
            </details>
          </li>
        ))}
      </ol>
      {value && value.messages.length < Math.min(value.all, 2_000) && (
        <Button onClick={() => setMost(Math.min(2_000, most + 4 * atOnce))}>Show older ones</Button>
      )}
    </section>
  );
};
