import { useState } from "react";
import { changeWebhook, webhookSecret, type WebhookRow } from "../../contract/webhooks";
import type { BodyOf } from "../../contract/endpoint";
import type { WebhookRequest } from "../../core/webhooks";
import { counted, fullMoment } from "../../core/words";
import { Button } from "../kit/Button";
import { CopyText } from "../kit/CopyText";
import { Dialog } from "../kit/Dialog";
import { call } from "../kit/data/call";
import { say } from "../kit/notices";
import { EndpointFields } from "./EndpointFields";
import { offWords, standWords } from "./webhookWords";
import styles from "./webhooks.module.css";

interface Props {
  endpoint: WebhookRow;
  launches: readonly { id: string; name: string }[];
  zone: string;
  onChanged: () => void;
}

/** One endpoint: what it is told of, its secret, what can be done with it, and what it was told. */
export const EndpointPane = ({ endpoint, launches, zone, onChanged }: Props) => {
  const { id, url, events, launch, offBecause, previousUntil, failed } = endpoint;
  const kept: WebhookRequest = { url, events, launch: launch?.id ?? null };
  const [typed, setTyped] = useState(kept);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [secret, setSecret] = useState<string>();
  const [removing, setRemoving] = useState(false);
  const changed = JSON.stringify(typed) !== JSON.stringify(kept);
  const change = async (request: BodyOf<typeof changeWebhook>, done: (sent: number) => string) => {
    const answer = await call(changeWebhook, { params: { id }, request });
    if (!answer.ok) {
      setWrong(answer.fields);
      return Object.keys(answer.fields).length === 0 && say(answer.message, true);
    }
    setWrong({});
    onChanged();
    say(done(answer.value.sent));
  };
  const ask = async (renew: boolean) => {
    const answer = await call(webhookSecret, { params: { id }, request: { renew } });
    if (!answer.ok) return say(answer.message, true);
    setSecret(answer.value.secret);
    onChanged();
    if (renew) say("A new secret is made. For a day, messages carry the signature of the old one as well.");
  };
  return (
    <section aria-labelledby="endpoint">
      <h2 id="endpoint">{new URL(url).host}</h2>
      <p role="status" className={offBecause ? styles.off : "muted"}>
        {offBecause ? `${offWords[offBecause]}. ` : ""}
        {standWords(endpoint, zone)}.
      </p>
      <p className={styles.actions}>
        {offBecause ? (
          <Button main onClick={() => void change({ do: "on" }, () => "It is told what happens from now on.")}>
            Switch it on
          </Button>
        ) : (
          <>
            <Button onClick={() => void change({ do: "test" }, () => "A message of the type webhook.test is on its way.")}>Send a test</Button>
            <Button onClick={() => void change({ do: "off" }, () => "Nothing goes there any more. What waits, waits.")}>Switch it off</Button>
          </>
        )}
        {failed > 0 && !offBecause && (
          <Button onClick={() => void change({ do: "send_failed" }, (sent) => `${counted(sent, "message goes", "messages go")} out again.`)}>
            {`Send ${counted(failed, "failed one", "failed ones")} again`}
          </Button>
        )}
        <Button onClick={() => setRemoving(true)}>Remove it</Button>
      </p>
      <form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          void change({ do: "change", ...typed }, () => "Saved.");
        }}
      >
        <EndpointFields value={typed} launches={launches} wrong={wrong} onChange={(part) => setTyped((now) => ({ ...now, ...part }))} />
        {changed && (
          <p className={styles.actions}>
            <Button main type="submit">
              Save what is changed
            </Button>
            <Button onClick={() => setTyped(kept)}>Leave it as it was</Button>
          </p>
        )}
      </form>
      <h3>Secret</h3>
      <p className="muted">
        The receiver checks by it that a message is yours (Standard Webhooks specification: HMAC with SHA-256, header webhook-signature).
        {previousUntil && ` The one before signs as well until ${fullMoment(previousUntil, zone)}.`}
      </p>
      {secret ? (
        <>
          <CopyText what="the secret" text={secret} />
          <Button onClick={() => void ask(true)}>Make a new secret</Button>
        </>
      ) : (
        <Button onClick={() => void ask(false)}>Show the secret</Button>
      )}
      {removing && (
        <Dialog
          title="Remove this endpoint"
          confirm="Remove it"
          destructive
          onConfirm={() => void change({ do: "remove" }, () => "The endpoint is removed.")}
          onClose={() => setRemoving(false)}
        >
          <p>Nothing goes to {url} any more, and the list of what went there is deleted.</p>
        </Dialog>
      )}
    </section>
  );
};
