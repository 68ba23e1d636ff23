import type { KeyboardEvent } from "react";
import type { Sort } from "./address";
import styles from "./DataTable.module.css";

const controls = "a[href], button, input, select";

/** The arrow keys go from row to row, to the same control of the next one. */
export const byArrows = (event: KeyboardEvent<HTMLTableSectionElement>): void => {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  const from = event.target instanceof HTMLElement ? event.target.closest("tr") : null;
  if (!step || !from || event.target instanceof HTMLSelectElement) return;
  const at = [...from.querySelectorAll(controls)].indexOf(event.target as Element);
  for (
    let row = step > 0 ? from.nextElementSibling : from.previousElementSibling;
    row;
    row = step > 0 ? row.nextElementSibling : row.previousElementSibling
  ) {
    const there = [...row.querySelectorAll<HTMLElement>(controls)];
    if (there.length === 0) continue;
    event.preventDefault();
    return (there[at] ?? there[0]!).focus();
  }
};

/** Shows the direction on the column that the list is sorted by; on a figure's it stands before the title, which ends where the figures end. */
export const Arrow = ({ sort, by }: { sort: Sort | undefined; by: string }) => (
  <span aria-hidden="true">{sort?.by === by ? (sort.down ? "▾" : "▴") : ""}</span>
);

/** Stands for the rows that are out of sight. */
export const Space = ({ height, span }: { height: number; span: number }) => (
  <tr aria-hidden="true" className={styles.space}>
    <td colSpan={span} style={{ height }} />
  </tr>
);
