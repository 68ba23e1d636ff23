import { useEffect, useRef, useState } from "react";
import { bells, resolveWallTime, wallTimeOf, type Bell, type LaunchPlan, subjectOf } from "../../../core/launch";
import { lengthWords, shortMoment } from "../../../core/words";
import { Button } from "../../kit/Button";
import { DateTimeField } from "../../kit/fields/DateTimeField";
import styles from "./Score.module.css";

export interface RungBell {
  key: string;
  at: string;
  rungAt: string;
  outcome: string;
}

interface Props {
  plan: LaunchPlan;
  bell: Bell;
  run?: RungBell;
  mayMove: boolean;
  /** Chosen by the keyboard, which goes on from here. */
  focused: boolean;
  onMove: (to: Date) => void;
  onClose: () => void;
}

/** What hangs on a bell and moves along with it. */
const hanging = ({ settings, subjects }: LaunchPlan, { kind }: Bell): string[] => {
  const side = kind === "opening" || kind === "start" ? "opening" : kind === "closing" ? "closing" : undefined;
  if (!side) return [];
  const emails = settings.emails.filter(({ hangsOn }) => hangsOn === side);
  const offset = (minutes: number) => (minutes === 0 ? "at it" : `${lengthWords(Math.abs(minutes))} ${minutes < 0 ? "before" : "after"}`);
  return [
    ...emails.map(({ id, minutes, time }) => `email “${subjectOf({ subjects }, id)}”, ${offset(minutes)}${time === null ? "" : `, ${time}`}`),
    ...(side === "closing" ? settings.stages.map(({ words, minutes }) => `countdown says “${words}”, ${offset(-minutes)}`) : []),
    ...(side === "closing" && settings.graceMinutes > 0 ? [`begun checkouts may finish, ${offset(settings.graceMinutes)}`] : []),
    "the gates of the pages",
  ];
};

/** One bell: when it rings or rang, what hangs on it, and the field that moves it. */
export const BellPane = ({ plan, bell, run, mayMove, focused, onMove, onClose }: Props) => {
  const [wall, setWall] = useState(wallTimeOf(bell.at, plan.zone));
  const [wrong, setWrong] = useState<string>();
  const pane = useRef<HTMLElement>(null);
  useEffect(() => {
    if (focused) pane.current?.focus();
  }, [focused]);
  useEffect(() => setWall(wallTimeOf(bell.at, plan.zone)), [bell.at, plan.zone]);
  // Measured against what else opens and closes the doors, not against the bell that is moved.
  const landmarks = bells(plan).filter((other) => other.key !== bell.key && (other.kind === "opening" || other.kind === "closing"));
  const resolved = resolveWallTime(wall, plan.zone);
  const submit = () => {
    if (!("instant" in resolved)) return setWrong("Give a date and a time, such as 27 November 2026, 18:00.");
    setWrong(undefined);
    onMove(resolved.instant);
  };
  const things = hanging(plan, bell);
  const late = run ? Math.round((Date.parse(run.rungAt) - Date.parse(run.at)) / 1000) : 0;
  return (
    <section ref={pane} tabIndex={-1} className={styles.bellPane} aria-label="Chosen bell">
      <h3>{bell.label}</h3>
      <p className={styles.time}>{shortMoment(bell.at, plan.zone)}</p>
      {run && (
        <p>
          Rung {late < 2 ? "on time" : late < 120 ? `${late} s late` : `${lengthWords(Math.round(late / 60))} late`}. {run.outcome}
        </p>
      )}
      {things.length > 0 && (
        <>
          <p className="muted">Moves along with it:</p>
          <ul>
            {things.map((thing) => (
              <li key={thing}>{thing}</li>
            ))}
          </ul>
        </>
      )}
      {mayMove && (
        <form
          noValidate
          onSubmit={(event) => {
            event.preventDefault();
            submit();
          }}
        >
          <DateTimeField label="Ring it at" value={wall} zone={plan.zone} landmarks={landmarks} wrong={wrong} onChange={setWall} />
          <p className={styles.buttons}>
            <Button type="submit" main disabled={wall === wallTimeOf(bell.at, plan.zone)}>
              See what that changes
            </Button>
            <Button onClick={onClose}>Close</Button>
          </p>
        </form>
      )}
      {!mayMove && (
        <p className={styles.buttons}>
          <Button onClick={onClose}>Close</Button>
        </p>
      )}
    </section>
  );
};
