import { webhookEvents, webhookEventNames, type WebhookEvent, type WebhookRequest } from "../../core/webhooks";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import styles from "./webhooks.module.css";

interface Props {
  value: WebhookRequest;
  launches: readonly { id: string; name: string }[];
  wrong: Readonly<Record<string, string>>;
  onChange: (part: Partial<WebhookRequest>) => void;
}

/** Where an endpoint is, and what it is told of. */
export const EndpointFields = ({ value, launches, wrong, onChange }: Props) => {
  const turn = (event: WebhookEvent, on: boolean) =>
    // In the order of the list, whichever was ticked first.
    onChange({ events: webhookEventNames.filter((one) => (one === event ? on : value.events.includes(one))) });
  return (
    <>
      <Field
        label="Address"
        type="url"
        placeholder="https://"
        value={value.url}
        wrong={wrong["url"]}
        onChange={(event) => onChange({ url: event.currentTarget.value })}
      />
      <Select
        label="Launch"
        value={value.launch ?? ""}
        options={[{ value: "", label: "all launches" }, ...launches.map(({ id, name }) => ({ value: id, label: name }))]}
        onChange={(launch) => onChange({ launch: launch || null })}
      />
      <fieldset className={styles.events}>
        <legend>It is told when</legend>
        {webhookEventNames.map((event) => (
          <label key={event}>
            <input type="checkbox" checked={value.events.includes(event)} onChange={({ currentTarget }) => turn(event, currentTarget.checked)} />
            <span>
              {webhookEvents[event]} <code className="muted">{event}</code>
            </span>
          </label>
        ))}
        {wrong["events"] && <p role="alert">{wrong["events"]}</p>}
      </fieldset>
    </>
  );
};
