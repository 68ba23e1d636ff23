import { useMemo } from "react";
import type { EmailFigures } from "../../contract/emails";
import { subjectOf, type LaunchSource, type SequenceSetting, type StepSetting } from "../../core/launch";
import type { ConditionNames } from "../../core/conditions";
import { counted } from "../../core/words";
import { Button } from "../kit/Button";
import { Table } from "../kit/Table";
import { figureColumns } from "./figures/figureColumns";
import { endsWords, momentWords, stepWords, whenWords } from "./sequenceWords";
import styles from "./emails.module.css";

interface Props {
  sequence: SequenceSetting;
  source: LaunchSource;
  products: readonly { id: string; name: string }[];
  /** What conditions call what they ask for. */
  names: ConditionNames;
  people: { taken: number; underWay: number };
  figures: ReadonlyMap<string, EmailFigures>;
  chosen: string | undefined;
  mayChange: boolean;
  onChoose: (id: string) => void;
  onAddStep: () => void;
}

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
        from {momentWords(sequence.from, products)}; {endsWords(sequence)} · {counted(people.taken, "person", "people")} taken in,{" "}
        {people.underWay.toLocaleString("en")} under way
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
              cell: (step) => (
                <>
                  <button type="button" className={styles.choose} aria-pressed={chosen === step.id} onClick={() => onChoose(step.id)}>
                    {subjectOf(source, step.id)}
                  </button>
                  <span className={styles.under}>to {whenWords(step, names)}</span>
                </>
              ),
            },
            ...figureColumns<StepSetting>(({ id }) => figures.get(id), source.price.currency),
          ]}
        />
      )}
      {mayChange && <Button onClick={onAddStep}>Add a step</Button>}
    </section>
  );
};
