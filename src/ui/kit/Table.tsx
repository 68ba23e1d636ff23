import type { ReactNode } from "react";
import styles from "./kit.module.css";

export interface Column<Row> {
  title: string;
  /** Figures stand at the right, under one another. */
  figure?: boolean;
  /** Never broken over lines. */
  whole?: boolean;
  cell: (row: Row) => ReactNode;
}

/** A ruled table. `name` says to a screen reader what it lists. */
export const Table = <Row,>({ name, columns, rows, rowKey }: { name: string; columns: Column<Row>[]; rows: Row[]; rowKey: (row: Row) => string }) => (
  <div className={styles.scroll} tabIndex={0} role="region" aria-label={name}>
    <table className={styles.table}>
      <thead>
        <tr>
          {columns.map((column) => (
            <th key={column.title} scope="col" className={column.figure ? styles.figure : undefined}>
              {column.title}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={rowKey(row)}>
            {columns.map((column) => (
              <td key={column.title} className={column.figure ? styles.figure : column.whole ? styles.whole : undefined}>
                {column.cell(row)}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  </div>
);
