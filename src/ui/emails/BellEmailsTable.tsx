import type { EmailFigures } from "../../contract/emails";
import type { DatedEmail, EmailRun } from "../../core/emails";
import { subjectOf, wallTimeOf, type LaunchSource } from "../../core/launch";
import { clockTime, shortMoment } from "../../core/words";
import { Table } from "../kit/Table";
import { hangsWords } from "./emailWords";
import { figureColumns } from "./figures/figureColumns";
import styles from "./emails.module.css";

type ClockKind = LaunchSource["settings"]["clock"]["kind"];

/** When an email goes, and what quiet hours have to do with it. */
const When = ({ email, at, movedFrom, stop, zone, clock }: DatedEmail & { zone: string; clock: ClockKind }) => {
  const moment = (other: Date) =>
    wallTimeOf(at, zone).slice(0, 10) === wallTimeOf(other, zone).slice(0, 10) ? clockTime(other, zone) : shortMoment(other, zone);
  return (
    <>
      {shortMoment(at, zone)}
      <span className={styles.under}>{hangsWords(email, clock)}</span>
      {movedFrom && (
        <span className={styles.under}>
          {at < movedFrom ? "before" : "after"} quiet hours, not {moment(movedFrom)}
        </span>
      )}
      {stop && <span className={styles.under}>in quiet hours, which end after the close: not sent</span>}
    </>
  );
};

interface Props {
  run: EmailRun;
  source: LaunchSource;
  zone: string;
  /** The instant that the screen shows; undefined where the run is of a clock of nobody's. */
  present: Date | undefined;
  figures: ReadonlyMap<string, EmailFigures>;
  chosen: string | undefined;
  onChoose: (id: string) => void;
}

/** The emails that hang on the bells of a launch: when each goes, to whom, and what became of it. */
export const BellEmailsTable = ({ run, source, zone, present, figures, chosen, onChoose }: Props) => {
  const nobody = ({ email: { id }, at }: DatedEmail) => present !== undefined && at <= present && !figures.has(id);
  return (
    <Table
      name="Emails on the bells"
      rows={run.emails}
      rowKey={({ email: { id } }) => id}
      columns={[
        {
          title: present ? "When" : "When, if it started now",
          whole: true,
          cell: (one) => <When {...one} zone={zone} clock={source.settings.clock.kind} />,
        },
        {
          title: "Subject",
          cell: ({ email: one }) => (
            <>
              <button type="button" className={styles.choose} aria-pressed={one.id === chosen} onClick={() => onChoose(one.id)}>
                {subjectOf(source, one.id)}
              </button>
              <span className={styles.under}>to {one.to === "list" ? "the whole list" : "whoever has not bought"}</span>
            </>
          ),
        },
        ...figureColumns<DatedEmail>(({ email: { id } }) => figures.get(id), source.price.currency, nobody),
      ]}
    />
  );
};
