import { type Bell } from "../../../core/launch";
import { shortMoment } from "../../../core/words";
import { BellGlyph } from "../../kit/BellGlyph";
import type { RungBell } from "./BellPane";
import styles from "./Score.module.css";

interface Props {
  bells: Bell[];
  zone: string;
  now: number;
  run: ReadonlyMap<string, RungBell>;
  onChoose: (bell: Bell) => void;
  onGo: (at: Date) => void;
}

/** Every bell of the shown span as a list: the same that the lanes draw, for the keyboard and for reading. */
export const BellList = ({ bells, zone, now, run, onChoose, onGo }: Props) => (
  <details className={styles.list}>
    <summary>
      {bells.length} {bells.length === 1 ? "bell" : "bells"} in this span
    </summary>
    <ol>
      {bells.map((bell) => {
        const past = run.get(bell.key);
        return (
          <li key={bell.key}>
            <BellGlyph kind={bell.kind} />
            <button type="button" className={styles.time} onClick={() => onGo(bell.at)}>
              {shortMoment(bell.at, zone)}
            </button>
            <button type="button" onClick={() => onChoose(bell)}>
              {bell.label}
            </button>
            <span className="muted">{past ? past.outcome : bell.at.getTime() <= now ? "passed" : "to come"}</span>
          </li>
        );
      })}
    </ol>
  </details>
);
