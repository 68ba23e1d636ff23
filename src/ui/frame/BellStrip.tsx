import { useEffect, useState } from "react";
import { shortMoment, zoneCity, type BellKind, type WindowPhase } from "../../core/launch";
import { onAsSeen, type AsSeen } from "../kit/asSeen";
import { BellGlyph } from "../kit/BellGlyph";
import { Countdown } from "../kit/Countdown";
import { useServerNow } from "../kit/useServerNow";
import styles from "./BellStrip.module.css";

interface Props {
  launch?: string;
  zone: string;
  phase?: string;
  phaseKind?: WindowPhase;
  bell?: { kind: BellKind; label: string; of?: string; at: number };
  now: number;
  scoreHref?: string;
}

/** The strip above every desk screen: launch, phase, next bell, and whose view at which instant the screen shows. */
export const BellStrip = ({ launch, zone, phase, phaseKind, bell, now: sentAt, scoreHref }: Props) => {
  const now = useServerNow(sentAt);
  const [seen, setSeen] = useState<AsSeen>();
  useEffect(() => onAsSeen(setSeen), []);
  return (
    <header className={seen ? `${styles.strip} ${styles.elsewhere}` : styles.strip}>
      <a className={styles.mark} href="/desk">
        <BellGlyph kind="opening" size={20} /> Ink Bell
      </a>
      <span className={styles.name}>{launch ?? "All launches"}</span>
      {phase && <span className={styles[phaseKind ?? "before"]}>{phase}</span>}
      {bell && (
        <span className={styles.count}>
          <BellGlyph kind={bell.kind} size={18} />
          <span>
            {bell.of ? `${bell.of}: ` : ""}
            {bell.label.toLowerCase()} in
          </span>
          <Countdown until={bell.at} now={now} />
        </span>
      )}
      <a className={styles.seen} href={scoreHref} title={`In the launch's zone, ${zone}. Choose another moment on the score.`}>
        <span>
          <em>As seen</em> {seen ? seen.words : `now, ${shortMoment(new Date(now), zone).slice(-5)} ${zoneCity(zone)}`}
        </span>
        <span>by {seen?.person ?? "everyone"}</span>
      </a>
    </header>
  );
};
