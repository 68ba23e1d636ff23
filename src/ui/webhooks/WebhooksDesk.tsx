import { useState } from "react";
import { addWebhook, listWebhooks, type WebhookRow } from "../../contract/webhooks";
import type { WebhookRequest } from "../../core/webhooks";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { useRead } from "../kit/data/useRead";
import { useReady } from "../kit/data/useReady";
import { say } from "../kit/notices";
import { EndpointFields } from "./EndpointFields";
import { EndpointMessages } from "./EndpointMessages";
import { EndpointPane } from "./EndpointPane";
import { eventsWords, offWords, standWords } from "./webhookWords";
import styles from "./webhooks.module.css";

interface Props {
  first: { endpoints: WebhookRow[] };
  launches: readonly { id: string; name: string }[];
  open: string | undefined;
  zone: string;
}

const empty: WebhookRequest = { url: "", events: ["order.paid"], launch: null };

/** Other tools that are told of what happens: where they are, what they are told, and how that goes. */
export const WebhooksDesk = ({ first, launches, open, zone }: Props) => {
  const ready = useReady();
  const [chosen, setChosen] = useState(open);
  const { value, again } = useRead(listWebhooks, {}, { first, everyMs: () => 5_000 });
  const endpoints = value?.endpoints ?? [];
  const [typed, setTyped] = useState<WebhookRequest>();
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const choose = (id: string | undefined) => {
    setChosen(id);
    const address = new URL(location.href);
    if (id) address.searchParams.set("endpoint", id);
    else address.searchParams.delete("endpoint");
    history.replaceState(history.state, "", address);
  };
  const add = async () => {
    const answer = await call(addWebhook, { request: typed! });
    if (!answer.ok) {
      setWrong(answer.fields);
      return Object.keys(answer.fields).length === 0 && say(answer.message, true);
    }
    setWrong({});
    setTyped(undefined);
    choose(answer.value.id);
    again();
    say("Added. It is told what happens from now on.");
  };
  const endpoint = endpoints.find(({ id }) => id === chosen);
  return (
    <div inert={!ready} className={styles.desk}>
      <section aria-labelledby="endpoints">
        <h2 id="endpoints">Endpoints</h2>
        <p className="muted">
          Each gets a signed message when something happens, within seconds, and again over three days where it does not take it. The same message may
          come twice, under the same id.
        </p>
        {endpoints.length === 0 && <p>No other tool is told of anything yet.</p>}
        <ul className={styles.endpoints}>
          {endpoints.map((one) => (
            <li key={one.id}>
              <button type="button" className={styles.choose} aria-pressed={one.id === chosen} onClick={() => choose(one.id)}>
                {one.url}
              </button>
              <p>
                {eventsWords(one.events)}
                {one.launch && <>, in {one.launch.name}</>}
              </p>
              <p className={one.offBecause ? styles.off : "muted"}>{one.offBecause ? offWords[one.offBecause] : standWords(one, zone)}</p>
            </li>
          ))}
        </ul>
        {typed ? (
          <form
            noValidate
            aria-label="A new endpoint"
            onSubmit={(event) => {
              event.preventDefault();
              void add();
            }}
          >
            <EndpointFields value={typed} launches={launches} wrong={wrong} onChange={(part) => setTyped({ ...typed, ...part })} />
            <p className={styles.actions}>
              <Button main type="submit">
                Add this endpoint
              </Button>
              <Button onClick={() => setTyped(undefined)}>Cancel</Button>
            </p>
          </form>
        ) : (
          <Button onClick={() => setTyped(empty)}>Add an endpoint</Button>
        )}
        {endpoint && <EndpointMessages key={endpoint.id} endpoint={endpoint.id} host={new URL(endpoint.url).host} zone={zone} onChanged={again} />}
      </section>
      {endpoint && <EndpointPane key={endpoint.id} endpoint={endpoint} launches={launches} zone={zone} onChanged={again} />}
    </div>
  );
};
