import { useEffect, useState } from "react";
import { seenAsWords, type BellKind, type WindowPhase } from "../../core/launch";
import { shortMoment, zoneCity } from "../../core/words";
import { carrySeen, onSeen, type Seen } from "../kit/data/asSeen";
import { BellGlyph } from "../kit/BellGlyph";
import { Countdown } from "../kit/Countdown";
import { useServerNow } from "../kit/data/useServerNow";
import { AsSeenPanel } from "./AsSeenPanel";
import styles from "./BellStrip.module.css";

interface Props {
  launch?: { slug: string; name: string; addresses: string[] };
  zone: string;
  phase?: string;
  phaseKind?: WindowPhase;
  bell?: { kind: BellKind; label: string; of?: string; at: number };
  now: number;
  /** What the screen shows, when it is not now as everyone. */
  seen: Seen;
}

/** The strip above every desk screen: launch, phase, next bell, and whose view at which instant the screen shows. */
export const BellStrip = ({ launch, zone, phase, phaseKind, bell, now: sentAt, seen: first }: Props) => {
  const now = useServerNow(sentAt);
  const [seen, setSeen] = useState<Seen>(first);
  const [open, setOpen] = useState(false);
  useEffect(() => onSeen(setSeen), []);
  useEffect(carrySeen, []);
  // At another instant nothing ticks: the figure is what it was, or will be, then.
  const base = seen.at?.getTime() ?? now;
  const elsewhere = seen.at !== undefined || seen.as.kind !== "everyone";
  const moment = seen.at ? `${shortMoment(seen.at, zone)} ${zoneCity(zone)}` : `now, ${shortMoment(new Date(now), zone).slice(-5)} ${zoneCity(zone)}`;
  return (
    <header className={elsewhere ? `${styles.strip} ${styles.elsewhere}` : styles.strip}>
      <a className={styles.mark} href="/desk">
        <BellGlyph kind="opening" size={20} /> Ink Bell
      </a>
      <span className={styles.name}>{launch?.name ?? "All launches"}</span>
      {phase && <span className={`${styles.phase} ${styles[phaseKind ?? "before"]}`}>{phase}</span>}
      {bell && bell.at > base && (
        <span className={styles.count}>
          <BellGlyph kind={bell.kind} size={18} />
          <span>
            {bell.of ? `${bell.of}: ` : ""}
            {bell.label.charAt(0).toLowerCase() + bell.label.slice(1)} in
          </span>
          <Countdown until={bell.at} now={base} />
        </span>
      )}
      <button
        type="button"
        className={styles.seen}
        aria-expanded={open}
        aria-controls="as-seen"
        onClick={() => setOpen(!open)}
        title={`In the launch's zone, ${zone}`}
      >
        <span>
          <em>As seen</em> <span className={styles.moment}>{moment}</span>
        </span>
        <span className={styles.viewer}>by {seenAsWords(seen.as, seen.name)}</span>
      </button>
      {open && <AsSeenPanel seen={seen} zone={zone} now={now} launch={launch} onClose={() => setOpen(false)} />}
    </header>
  );
};
