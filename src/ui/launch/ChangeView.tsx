import { useEffect, useRef } from "react";
import { type ChangeSummary, type ChangeWarning } from "../../core/launch";
import { lengthWords, shortMoment, counted } from "../../core/words";
import { formatMoney } from "../kit/data/numbers";
import { Button } from "../kit/Button";
import styles from "./score/Score.module.css";

const people = (n: number) => counted(n, "person", "people");

/** Why a change deserves a second thought, in a sentence. */
export const warningWords = (warning: ChangeWarning, currency: string): string => {
  switch (warning.code) {
    case "closing_earlier":
      return `${people(warning.people)} were shown a later end and lose time that they were promised.`;
    case "closing_later":
      return `${people(warning.people)} were told that it ends sooner. An end that is put off once is not believed again, and in the EU a false “only until” is an unfair practice (Directive 2005/29/EC, Annex I no. 7).`;
    case "opening_moved":
      return `${people(warning.people)} were told another opening. Tell them before it passes.`;
    case "more_seats":
      return `The pages said ${counted(warning.from, "seat")}. ${warning.to === null ? "Taking the limit away" : `Making it ${warning.to}`} makes that untrue for who bought because of it.`;
    case "price_falls":
      return `${people(warning.buyers)} paid up to ${formatMoney(warning.fromMinor, currency)}; it would now be ${formatMoney(warning.toMinor, currency)}.`;
  }
};

const sequenceWords = {
  added: "begins: it takes in whoever has its moment from now on.",
  changed: "changes: steps that wait go by it, what has been sent stays.",
  removed: "ends: steps that wait are not sent.",
} as const;

interface Props {
  what: string;
  summary: ChangeSummary;
  zone: string;
  currency: string;
  busy: boolean;
  onApply: () => void;
  onLeave: () => void;
}

/** What a change would do, in numbers, before it is made. */
export const ChangeView = ({ what, summary, zone, currency, busy, onApply, onLeave }: Props) => {
  // The button that asked for it is gone: who works by keyboard goes on here.
  const section = useRef<HTMLElement>(null);
  useEffect(() => {
    section.current?.focus();
  }, []);
  const { moved, sequences, sender, countdowns, reopened, shut, told = 0, warnings } = summary;
  const moment = (at: Date | undefined) => (at ? shortMoment(at, zone) : undefined);
  return (
    <section ref={section} tabIndex={-1} className={styles.change} aria-label="What this changes">
      <h3>{what}</h3>
      {countdowns.map(({ minutes, people: n }) => (
        <p key={minutes}>
          <strong>
            {people(n)}: the countdown moves {lengthWords(Math.abs(minutes))} {minutes > 0 ? "later" : "earlier"}.
          </strong>
        </p>
      ))}
      {reopened > 0 && <p>For {people(reopened)} the doors open again.</p>}
      {shut > 0 && <p>For {people(shut)} the doors close at once.</p>}
      {countdowns.length === 0 && reopened === 0 && shut === 0 && <p>Nobody’s countdown moves.</p>}
      {told > 0 && <p>{people(told)} got an email that names another closing. Once it is moved, you can write to just them.</p>}
      {moved.length > 0 && (
        <ul>
          {moved.slice(0, 12).map(({ key, label, from, to }) => (
            <li key={key}>
              {label}: {from ? <s>{moment(from)}</s> : "new,"} {to ? moment(to) : "goes"}
            </li>
          ))}
          {moved.length > 12 && <li>and {moved.length - 12} more</li>}
        </ul>
      )}
      {sequences.map(({ name, is }) => (
        <p key={`${is} ${name}`}>
          The sequence “{name}” {sequenceWords[is]}
        </p>
      ))}
      {sender !== undefined && <p>Emails of this launch come from {sender ?? "your own name and address"} from now on.</p>}
      {warnings.map((warning) => (
        <p key={warning.code} className={styles.warning}>
          {warningWords(warning, currency)}
        </p>
      ))}
      <p className={styles.buttons}>
        <Button main onClick={onApply} disabled={busy}>
          {warnings.length > 0 ? "Change it all the same" : "Change it"}
        </Button>
        <Button onClick={onLeave}>Cancel</Button>
      </p>
    </section>
  );
};
