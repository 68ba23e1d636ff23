import type { EmailFigures } from "../../../contract/emails";
import { subjectOf, type LaunchSource } from "../../../core/launch";
import { Button } from "../../kit/Button";
import { Table } from "../../kit/Table";
import type { SavedFilter } from "../../../contract/people";
import { figureColumns } from "../figures/figureColumns";
import { oneOffState, oneOffWhen, type OneOff } from "./OneOffPane";
import { toWhom } from "./recipientWords";
import styles from "../emails.module.css";

interface Props {
  oneOffs: readonly OneOff[];
  source: LaunchSource;
  filters: readonly SavedFilter[];
  figures: ReadonlyMap<string, EmailFigures>;
  chosen: string | undefined;
  mayChange: boolean;
  onChoose: (id: string) => void;
  onAdd: () => void;
}

/** Emails that go once: to whom, when, how far they are, and what became of them. */
export const OneOffTable = ({ oneOffs, source, filters, figures, chosen, mayChange, onChoose, onAdd }: Props) => (
  <section aria-labelledby="one-offs" className={styles.personal}>
    <div className={styles.head}>
      <h2 id="one-offs">One-off emails</h2>
      {mayChange && <Button onClick={onAdd}>Begin a one-off email</Button>}
    </div>
    <p className="muted">An email that goes once, now or at a moment, to whoever meets a condition.</p>
    {oneOffs.length > 0 && (
      <Table
        name="One-off emails"
        rows={[...oneOffs]}
        rowKey={({ id }) => id}
        columns={[
          {
            title: "When",
            cell: (one) => (
              <>
                <span className={styles.moment}>{oneOffWhen(one, source.zone)}</span>
                <span className={styles.under}>{oneOffState(one, figures.get(one.id)?.due ?? 0)}</span>
              </>
            ),
          },
          {
            title: "Subject",
            cell: ({ id, who }) => (
              <>
                <button type="button" className={styles.choose} aria-pressed={chosen === id} onClick={() => onChoose(id)}>
                  {subjectOf(source, id)}
                </button>
                <span className={styles.under}>to {toWhom(who, filters)}</span>
              </>
            ),
          },
          ...figureColumns<OneOff>(({ id }) => figures.get(id), source.price.currency),
        ]}
      />
    )}
  </section>
);
