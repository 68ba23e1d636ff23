import { useMemo } from "react";
import type { EmailFigures } from "../../contract/emails";
import { subjectOf, type LaunchSource, type SequenceSetting } from "../../core/launch";
import type { ConditionNames } from "../../core/conditions";
import { counted } from "../../core/words";
import { Button } from "../kit/Button";
import { Table } from "../kit/Table";
import { droppedWords } from "./emailWords";
import { endsWords, momentWords, stepWords, whenWords } from "./sequenceWords";
import styles from "./emails.module.css";

interface Props {
  sequence: SequenceSetting;
  source: LaunchSource;
  products: readonly { id: string; name: string }[];
  /** What conditions call what they ask for. */
  names: ConditionNames;
  /** How many people are in it. */
  people: number;
  figures: ReadonlyMap<string, EmailFigures>;
  chosen: string | undefined;
  mayChange: boolean;
  onChoose: (id: string) => void;
  onAddStep: () => void;
}

const whole = (n: number | undefined) => (n ? n.toLocaleString("en") : "");
const dropped = (one: EmailFigures | undefined) => Object.values(one?.stopped ?? {}).reduce((sum, n) => sum + n, 0);

/** One sequence: what it counts from, its steps in the order in which they go, and what became of them. */
export const SequenceTable = ({ sequence, source, products, names, people, figures, chosen, mayChange, onChoose, onAddStep }: Props) => {
  const steps = useMemo(() => [...sequence.steps].sort((a, b) => a.minutes - b.minutes), [sequence.steps]);
  return (
    <section aria-label={sequence.name} className={styles.sequence}>
      <h3>
        <button type="button" className={styles.choose} aria-pressed={chosen === sequence.id} onClick={() => onChoose(sequence.id)}>
          {sequence.name || "A sequence without a name"}
        </button>
      </h3>
      <p className="muted">
        from {momentWords(sequence.from, products)}; {endsWords(sequence)} · {counted(people, "person", "people")} taken in
      </p>
      {steps.length > 0 && (
        <Table
          name={`Steps of ${sequence.name}`}
          rows={steps}
          rowKey={({ id }) => id}
          columns={[
            { title: "When", cell: stepWords },
            {
              title: "Subject",
              cell: ({ id }) => (
                <button type="button" className={styles.choose} aria-pressed={chosen === id} onClick={() => onChoose(id)}>
                  {subjectOf(source, id)}
                </button>
              ),
            },
            { title: "Recipients", aside: true, cell: (step) => whenWords(step, names) },
            { title: "Sent", figure: true, cell: ({ id }) => whole(figures.get(id)?.sent) },
            { title: "Waiting", figure: true, aside: true, cell: ({ id }) => whole(figures.get(id)?.due) },
            {
              title: "Not sent",
              figure: true,
              cell: ({ id }) => {
                const one = figures.get(id);
                return one && dropped(one) > 0 ? <abbr title={droppedWords(one.stopped)}>{whole(dropped(one))}</abbr> : "";
              },
            },
          ]}
        />
      )}
      {mayChange && <Button onClick={onAddStep}>Add a step</Button>}
    </section>
  );
};
