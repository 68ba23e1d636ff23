import { useState } from "react";
import { cancelImport, checkImport, readImport, runImport, type ImportRecord } from "../../../contract/peopleImport";
import { underWay } from "../../../core/people";
import { counted } from "../../../core/words";
import { Button } from "../../kit/Button";
import { call } from "../../kit/data/call";
import { useRead } from "../../kit/data/useRead";
import { useReady } from "../../kit/data/useReady";
import { say } from "../../kit/notices";
import { ImportChoices } from "./ImportChoices";
import { ImportOutcome } from "./ImportOutcome";
import styles from "./import.module.css";

interface Props {
  first: ImportRecord;
  /** What access can be given to; none for whoever may not. */
  products: readonly { id: string; name: string }[];
}

/** Brings the people of a file in: how it is read, what would come of it, how far it has come, and what came of it. */
export const ImportDesk = ({ first, products }: Props) => {
  const ready = useReady();
  const { id } = first;
  const {
    value = first,
    failure,
    again,
  } = useRead(readImport, { params: { id } }, { first, everyMs: ({ state }) => (underWay.includes(state) ? 700 : false) });
  const [choices, setChoices] = useState(first.choices);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [busy, setBusy] = useState(false);
  const { state, lines, done, counts } = value;
  const isChecked = state === "checked" && done === lines && JSON.stringify(value.choices) === JSON.stringify(choices);
  const check = async () => {
    setBusy(true);
    const answer = await call(checkImport, { params: { id }, request: choices });
    setBusy(false);
    setWrong(answer.ok ? {} : answer.fields);
    if (!answer.ok && Object.keys(answer.fields).length === 0) say(answer.message, true);
    again();
  };
  const send = async (endpoint: typeof runImport | typeof cancelImport) => {
    setBusy(true);
    const answer = await call(endpoint, { params: { id } });
    setBusy(false);
    if (!answer.ok) say(answer.message, true);
    again();
  };
  const goes = underWay.includes(state);
  const people = Math.max(counts.added + counts.changed, counts.granted);
  return (
    <div inert={!ready}>
      <p className={`muted ${styles.lines}`}>
        {counted(lines, "line", "lines")}
        {!value.utf8 && ", not in UTF-8: read as Windows-1252. Look whether accented letters are right."}
      </p>
      {failure && <p role="alert">{failure}</p>}
      {goes ? (
        <section className={styles.progress} aria-label="Progress">
          <label>
            {state === "checking" ? "Checking the file" : "Bringing people in"}: {done.toLocaleString("en")} of {counted(lines, "line", "lines")}
            <progress max={lines} value={done} />
          </label>
          <Button disabled={busy} onClick={() => void send(cancelImport)}>
            {state === "checking" ? "Stop checking" : "Stop: keep who is in"}
          </Button>
          <p className="muted">You can leave this page; it goes on.</p>
        </section>
      ) : (
        (state === "read" || state === "checked") && (
          <>
            <ImportChoices record={value} products={products} choices={choices} wrong={wrong} onChange={setChoices} />
            {!isChecked && (
              <p className={styles.next}>
                <Button main disabled={busy} onClick={() => void check()}>
                  Check the file
                </Button>{" "}
                <span className="muted">Nobody is changed yet.</span>
              </p>
            )}
          </>
        )
      )}
      {(isChecked || state === "done" || state === "cancelled") && (
        <ImportOutcome record={value}>
          {isChecked && (
            <p className={styles.next}>
              <Button main disabled={busy || people === 0} onClick={() => void send(runImport)}>
                {people === 0 ? "There is nobody to bring in" : `Bring in ${counted(people, "person", "people")}`}
              </Button>
            </p>
          )}
        </ImportOutcome>
      )}
    </div>
  );
};
