import { retryWork } from "../../contract/work";
import { emailKindWords } from "../../core/emails";
import { useState } from "react";
import { lengthWords, shortMoment, zoneCity } from "../../core/words";
import { dropWords, type EmailQueue, type RetryRequest, type WaitingWork } from "../../core/work";
import { Button } from "../kit/Button";
import { EmptyState } from "../kit/EmptyState";
import { call } from "../kit/data/call";
import { Table } from "../kit/Table";
import { useReady } from "../kit/data/useReady";
import { say } from "../kit/notices";
import styles from "./work.module.css";

interface Props {
  waiting: WaitingWork;
  now: number;
  /** The zone that moments are shown in. */
  zone: string;
  mayRetry: boolean;
}

const states: Record<EmailQueue["state"], string> = {
  late: "waits",
  sending: "being sent",
  unknown: "sent or not: unknown",
  dropped: "dropped",
};

/** Background work that is late, and emails that wait, are unsure, or were dropped; with a press that tries them now. */
export const WaitingDesk = ({ waiting, now, zone, mayRetry }: Props) => {
  const ready = useReady();
  const [busy, setBusy] = useState(false);
  const since = (iso: string) => {
    const minutes = Math.max(0, Math.round((now - Date.parse(iso)) / 60_000));
    // Of what is days old nobody counts the minutes.
    return `${shortMoment(new Date(iso), zone)}, ${zoneCity(zone)}: ${lengthWords(minutes < 1440 ? minutes : minutes - (minutes % 60))} ago`;
  };
  const retry = async (request: RetryRequest, done: string) => {
    setBusy(true);
    const answer = await call(retryWork, { request });
    setBusy(false);
    say(answer.ok ? done : answer.message, !answer.ok);
  };
  const because = ({ state, because: why }: EmailQueue) =>
    state === "dropped" ? (dropWords[why] ?? why) : why || (state === "late" ? "waiting for its turn" : "");
  const failed = waiting.emails.some(({ state, because: why }) => state === "late" && why !== "");
  return (
    <div inert={!ready} className={styles.waiting}>
      <section aria-labelledby="late-work">
        <h2 id="late-work">Work</h2>
        {waiting.work.length === 0 ? (
          <EmptyState title="Nothing waits" says="Payments, refunds and bells that do not go through at once stand here, with why, until they do." />
        ) : (
          <Table
            name="Work that waits"
            rows={waiting.work}
            rowKey={(row) => row.id ?? `${row.what} ${row.about} ${row.since}`}
            columns={[
              { title: "What", cell: (row) => row.what },
              { title: "About", cell: (row) => row.about },
              { title: "Since", cell: (row) => since(row.since) },
              { title: "Tries", figure: true, cell: (row) => row.tries },
              { title: "Why it waits", cell: (row) => row.because },
              { title: "Tried next", cell: (row) => (row.nextAt ? `${shortMoment(new Date(row.nextAt), zone)}, ${zoneCity(zone)}` : "now") },
              {
                title: "",
                cell: (row) =>
                  mayRetry &&
                  row.id !== null && (
                    <Button
                      disabled={busy}
                      onClick={() => void retry({ what: "work", id: row.id! }, "It is tried now. Reload in a moment to see what came of it.")}
                    >
                      Try now
                    </Button>
                  ),
              },
            ]}
          />
        )}
      </section>
      <section aria-labelledby="late-emails">
        <h2 id="late-emails">Emails</h2>
        {waiting.emails.length === 0 ? (
          <EmptyState
            title="No email waits"
            says="Emails that the mail server has not taken, and those that were dropped in the last week, stand here with why."
          />
        ) : (
          <>
            {mayRetry && failed && (
              <p className={styles.press}>
                <Button disabled={busy} onClick={() => void retry({ what: "emails" }, "They are tried now.")}>
                  Try all that failed now
                </Button>
              </p>
            )}
            <Table
              name="Emails that wait, are unsure, or were dropped"
              rows={waiting.emails}
              rowKey={(row) => `${row.kind} ${row.state} ${row.because}`}
              columns={[
                { title: "Email", whole: true, cell: (row) => emailKindWords[row.kind] },
                { title: "How many", figure: true, cell: (row) => row.n.toLocaleString("en") },
                { title: "State", cell: (row) => states[row.state] },
                { title: "Why", whole: true, cell: because },
                { title: "The oldest was due", cell: (row) => since(row.since) },
                {
                  title: "",
                  cell: (row) =>
                    mayRetry &&
                    row.state === "unknown" && (
                      <Button disabled={busy} onClick={() => void retry({ what: "unknown", kind: row.kind }, "They are sent again.")}>
                        Send {row.n.toLocaleString("en")} again
                      </Button>
                    ),
                },
              ]}
            />
          </>
        )}
      </section>
    </div>
  );
};
