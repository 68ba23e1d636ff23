import type { PageGap } from "../../../core/pages";
import styles from "./editor.module.css";

interface Props {
  label: string;
  gaps: readonly PageGap[];
  onGap: (gap: PageGap) => void;
}

/** What a page or an email lacks; each opens the block where it is mended. */
export const GapList = ({ label, gaps, onGap }: Props) => (
  <ul className={styles.gaps} aria-label={label}>
    {gaps.map((gap, index) => (
      <li key={index} data-blocking={gap.blocking}>
        {gap.block ? (
          <button type="button" onClick={() => onGap(gap)}>
            {gap.says}
          </button>
        ) : (
          <b>{gap.says}</b>
        )}{" "}
        {gap.why}
      </li>
    ))}
  </ul>
);
