import { useEffect, useId, useMemo, useState, type ReactNode } from "react";
import {
  condition,
  conditionOfRows,
  conditionSentence,
  namedBy,
  readSentence,
  rowsOf,
  sentenceFault,
  type ConditionRow,
  type ConditionRows,
} from "../../../core/conditions";
import { Button } from "../../kit/Button";
import { faultSentence } from "../../kit/data/numbers";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { kindOfRow, newRow, rowKinds, rowKindWords } from "./rowKinds";
import { RowDetails, type FilterChoices } from "./RowDetails";
import styles from "./filter.module.css";

interface Props {
  /** The condition as its sentence; empty for everybody. */
  who: string;
  choices: FilterChoices;
  /** What the button says that adds the first condition. */
  begin?: string;
  onChange: (who: string) => void;
  /** What can be done with the filter and with those whom it finds. */
  children?: ReactNode;
}

const none: ConditionRows = { join: "all", rows: [] };
const isWhole = ({ asked }: ConditionRow): boolean => condition.safeParse(asked).success;
const mostRows = 20;

/**
 * Puts together whom a list shows, row by row or as a sentence. A row that is not complete yet is left out, and says so; a sentence of groups
 * inside of one another is changed as text.
 */
export const PeopleFilter = ({ who, choices, begin = "Filter by what people did", onChange, children }: Props) => {
  const id = useId();
  const { names, ids } = useMemo(() => namedBy(choices.things), [choices.things]);
  const sentenceOf = (of: ConditionRows): string => {
    const asked = conditionOfRows({ ...of, rows: of.rows.filter(isWhole) });
    return asked ? conditionSentence(asked, names) : "";
  };
  const readRows = (sentence: string): ConditionRows | undefined => {
    if (sentence.trim() === "") return none;
    const read = readSentence(sentence, ids);
    return "condition" in read ? rowsOf(read.condition) : undefined;
  };
  const [rows, setRows] = useState(() => readRows(who));
  const [typed, setTyped] = useState(who);
  // Rows keep what is typed into them; those behind one that was removed are drawn anew.
  const [removals, setRemovals] = useState(0);
  // The filter was chosen or taken off elsewhere.
  useEffect(() => {
    const now = typed.trim() === "" ? undefined : readSentence(typed, ids);
    if ((now && "condition" in now ? conditionSentence(now.condition, names) : typed.trim()) === who) return;
    setTyped(who);
    setRows(readRows(who));
  }, [who]);
  const change = (next: ConditionRows) => {
    setRows(next);
    const sentence = sentenceOf(next);
    setTyped(sentence);
    if (sentence !== who) onChange(sentence);
  };
  const changeRow = (at: number, part: Partial<ConditionRow>) =>
    rows && change({ ...rows, rows: rows.rows.map((row, n) => (n === at ? { ...row, ...part } : row)) });
  const read = typed.trim() === "" ? undefined : readSentence(typed, ids);
  const wrong = read && "refusal" in read ? faultSentence(sentenceFault(typed, read.refusal)) : undefined;
  return (
    <section className={styles.filter} aria-labelledby={`${id}-title`}>
      <h2 id={`${id}-title`} className="visually-hidden">
        Filter
      </h2>
      {rows ? (
        <>
          {rows.rows.length > 1 && (
            <div className={styles.join}>
              <Select
                label="How the conditions are joined"
                hideLabel
                value={rows.join}
                options={[
                  { value: "all", label: "All of these hold" },
                  { value: "any", label: "Any of these holds" },
                ]}
                onChange={(join) => change({ ...rows, join })}
              />
            </div>
          )}
          <ol className={styles.rows}>
            {rows.rows.map((row, at) => (
              <li key={`${removals} ${at}`} aria-label={`Condition ${at + 1}`}>
                <Select
                  label="Whether it holds"
                  hideLabel
                  value={row.not ? "not" : "is"}
                  options={[
                    { value: "is", label: "with" },
                    { value: "not", label: "without" },
                  ]}
                  onChange={(next) => changeRow(at, { not: next === "not" })}
                />
                <Select
                  label="What is asked"
                  hideLabel
                  value={kindOfRow(row.asked)}
                  options={[...new Set([...rowKinds, kindOfRow(row.asked)])].map((value) => ({ value, label: rowKindWords[value] }))}
                  onChange={(kind) => changeRow(at, { asked: newRow(kind) })}
                />
                <RowDetails asked={row.asked} choices={choices} onChange={(asked) => changeRow(at, { asked })} />
                <button
                  type="button"
                  className={styles.link}
                  onClick={() => {
                    setRemovals(removals + 1);
                    change({ ...rows, rows: rows.rows.filter((_, n) => n !== at) });
                  }}
                >
                  Remove<span className="visually-hidden"> condition {at + 1}</span>
                </button>
                {!isWhole(row) && <span className="muted">not complete, so it is left out</span>}
              </li>
            ))}
          </ol>
        </>
      ) : (
        <p className="muted">Groups stand inside of one another here: change it as text.</p>
      )}
      <div className={styles.actions}>
        {rows && rows.rows.length < mostRows && (
          <Button onClick={() => change({ ...rows, rows: [...rows.rows, { not: false, asked: newRow("opted_in") }] })}>
            {rows.rows.length === 0 ? begin : "Add a condition"}
          </Button>
        )}
        {children}
      </div>
      <details className={styles.text} open={!rows}>
        <summary>As text</summary>
        <Field
          label="Condition"
          rows={2}
          spellCheck={false}
          value={typed}
          wrong={wrong}
          hint="such as: all of (opted in within 14 days; none of (paid)); may be nested"
          onChange={(event) => {
            const text = event.currentTarget.value;
            setTyped(text);
            const now = text.trim() === "" ? undefined : readSentence(text, ids);
            if (now && "refusal" in now) return;
            setRows(now ? rowsOf(now.condition) : none);
            onChange(now ? conditionSentence(now.condition, names) : "");
          }}
        />
      </details>
    </section>
  );
};
