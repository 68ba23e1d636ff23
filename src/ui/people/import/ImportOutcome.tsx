import type { ReactNode } from "react";
import type { ImportRecord } from "../../../contract/peopleImport";
import { counted } from "../../../core/words";
import { Table } from "../../kit/Table";
import { everybodyHref } from "../peopleHref";
import styles from "./import.module.css";

/** What would come of a file, or what came of it; and the lines that were refused. */
export const ImportOutcome = ({ record, children }: { record: ImportRecord; children?: ReactNode }) => {
  const { state, counts, refused, choices, id, done, lines } = record;
  const over = state !== "checked";
  const people = (n: number) => counted(n, "person", "people");
  const said = [
    `${people(counts.added)} ${over ? "added" : "would be added"}`,
    ...(counts.changed > 0 ? [`${people(counts.changed)} changed`] : []),
    ...(counts.unchanged > 0 ? [`${people(counts.unchanged)} known and unchanged`] : []),
    ...(counts.granted > 0 ? [`${people(counts.granted)} ${over ? "given" : "would be given"} access`] : []),
    `${counted(counts.refused, "line", "lines")} refused`,
  ];
  return (
    <section className={styles.outcome} aria-label={over ? "What came of it" : "What would come of it"}>
      <h2>{over ? "What came of it" : "What would come of it"}</h2>
      <p role="status">
        {state === "done" && <b>Done. </b>}
        {state === "cancelled" && (
          <b>
            Stopped after {counted(done, "line", "lines")} of {lines.toLocaleString("en")}.{" "}
          </b>
        )}
        {said.join(", ")}.
      </p>
      {counts.noConsent > 0 && (
        <p className="muted">{people(counts.noConsent)} without a stated consent: they get no emails unless they agree themselves.</p>
      )}
      {over && choices.tag !== "" && (
        <p>
          <a href={everybodyHref({ tag: choices.tag })}>Show who is tagged “{choices.tag}”</a>
        </p>
      )}
      {children}
      {refused.length > 0 && (
        <>
          <h3>Refused lines</h3>
          <p>
            <a href={`/desk/people/refused-${id}.csv`} download>
              Download {counted(counts.refused, "line", "lines")} as CSV
            </a>{" "}
            <span className="muted">with the reasons; mend them and bring the file in.</span>
          </p>
          <Table
            name="Refused lines"
            rows={refused}
            rowKey={({ line }) => String(line)}
            columns={[
              { title: "Line", figure: true, cell: ({ line }) => line.toLocaleString("en") },
              {
                title: "Why",
                cell: ({ faults }) =>
                  faults.map(({ column, says }) => (
                    <div key={column + says}>
                      {column && <b>{column}: </b>}
                      {says}
                    </div>
                  )),
              },
            ]}
          />
          {counts.refused > refused.length && <p className="muted">The first {refused.length}; the file has all.</p>}
        </>
      )}
    </section>
  );
};
