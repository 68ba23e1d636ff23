import type { Blocks } from "./useBlocks";
import type { PageGap } from "../../../core/pages";
import styles from "./editor.module.css";

interface Props {
  blocks: Pick<Blocks, "selected" | "select" | "found" | "step" | "duplicate" | "remove">;
  /** What is shown again where nothing is chosen. */
  whole: string;
  gaps: readonly PageGap[];
}

/** What can be done with the chosen block or section as a whole, and what it lacks. */
export const BlockActs = ({ blocks, whole, gaps }: Props) => (
  <>
    <p className={styles.acts}>
      <button type="button" onClick={() => blocks.select(undefined)}>
        {whole}
      </button>
      <button type="button" onClick={() => blocks.step(-1)}>
        Up
      </button>
      <button type="button" onClick={() => blocks.step(1)}>
        Down
      </button>
      {blocks.found && (
        <button type="button" onClick={blocks.duplicate}>
          Copy
        </button>
      )}
      <button type="button" onClick={blocks.remove}>
        Remove
      </button>
    </p>
    {gaps
      .filter(({ block }) => block === blocks.selected)
      .map((gap, index) => (
        <p key={index} className={gap.blocking ? styles.blocking : styles.advice}>
          <b>{gap.says}</b> {gap.why}
        </p>
      ))}
  </>
);
