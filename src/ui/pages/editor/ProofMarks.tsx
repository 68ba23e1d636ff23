import type { BlockType } from "../../../core/pages";
import { AddBlock } from "./AddBlock";
import type { Blocks } from "./useBlocks";
import styles from "./editor.module.css";

interface Props {
  blocks: Pick<Blocks, "selected" | "rect" | "aimed" | "addAt" | "add">;
  /** What may be added where the chosen block stands. */
  types: readonly BlockType[] | undefined;
  mayWrite: boolean;
}

/** What is drawn over a proof: the chosen block, the rule below it where one is added, and where a dragged one will stand. */
export const ProofMarks = ({ blocks: { selected, rect, aimed, addAt, add }, types, mayWrite }: Props) => (
  <>
    {rect && <div className={styles.outline} style={{ top: rect.top - 5, left: rect.left - 5, width: rect.width + 10, height: rect.height + 10 }} />}
    {mayWrite && addAt && rect && (
      <div className={styles.addingHere} style={{ top: rect.top + rect.height + 4, left: rect.left, width: Math.max(rect.width, 250) }}>
        <AddBlock key={selected} types={types} onAdd={(type) => add(addAt, type)} />
      </div>
    )}
    {aimed && (
      <div
        className={styles.aim}
        style={{ top: aimed.rect.top + (aimed.below ? aimed.rect.height + 6 : -6), left: aimed.rect.left, width: aimed.rect.width }}
      />
    )}
  </>
);
