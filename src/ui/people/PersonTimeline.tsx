import { useState } from "react";
import type { PersonEntry } from "../../core/people";
import { counted, shortMoment } from "../../core/words";
import { Button } from "../kit/Button";
import { entryLine } from "./entryWords";
import styles from "./people.module.css";

/** So many of the newest entries stand at first. */
const shownFirst = 60;

/** What a person did and got, the newest first, each with its mark on one line of time. */
export const PersonTimeline = ({ entries, zone }: { entries: PersonEntry[]; zone: string }) => {
  const [all, setAll] = useState(false);
  const newest = [...entries].reverse();
  const shown = (all ? newest : newest.slice(0, shownFirst)).map(entryLine);
  const launches = new Set(entries.map(({ launch }) => launch).filter(Boolean));
  return (
    <section aria-label="What happened">
      <h2>What happened</h2>
      {entries.length === 0 && <p className="muted">Nothing is known yet.</p>}
      <ol className={styles.timeline}>
        {shown.map(({ at, byDay, mark, says, launch, href }, index) => (
          <li key={`${at.toISOString()} ${index}`} data-mark={mark}>
            <time dateTime={at.toISOString()}>{byDay ? shortMoment(at, "UTC").replace(/, \d\d:\d\d$/, "") : shortMoment(at, zone)}</time>
            <span>
              {href ? <a href={href}>{says}</a> : says}
              {launches.size > 1 && launch && <span className="muted"> {launch}</span>}
            </span>
          </li>
        ))}
      </ol>
      {!all && newest.length > shownFirst && (
        <Button onClick={() => setAll(true)}>Show {counted(newest.length - shownFirst, "earlier entry", "earlier entries")}</Button>
      )}
    </section>
  );
};
