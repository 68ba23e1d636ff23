import type { ReactNode } from "react";
import styles from "./kit.module.css";

export interface Column<Row> {
  title: string;
  /** Figures stand at the right, under one another. */
  figure?: boolean;
  /** Never broken over lines. */
  whole?: boolean;
  /** Left out where the list is narrow, so that the other columns stay in sight; the file and what a row leads to have it. */
  aside?: boolean;
  cell: (row: Row) => ReactNode;
}

const joined = (...classes: (string | false | undefined)[]) => classes.filter(Boolean).join(" ") || undefined;

/** The class of the title of a column. */
export const headClass = ({ figure, aside }: Pick<Column<never>, "figure" | "aside">) => joined(figure && styles.figure, aside && styles.aside);

/** The class of a cell of a column. */
export const cellClass = ({ figure, whole, aside }: Pick<Column<never>, "figure" | "whole" | "aside">) =>
  joined(figure ? styles.figure : whole && styles.whole, aside && styles.aside);

/** A ruled table. `name` says to a screen reader what it lists. */
export const Table = <Row,>({ name, columns, rows, rowKey }: { name: string; columns: Column<Row>[]; rows: Row[]; rowKey: (row: Row) => string }) => (
  <div className={styles.listing}>
    <div className={styles.wide} tabIndex={0} role="region" aria-label={name}>
      <table className={styles.table}>
        <thead>
          <tr>
            {columns.map((column) => (
              <th key={column.title} scope="col" className={headClass(column)}>
                {column.title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={rowKey(row)}>
              {columns.map((column) => (
                <td key={column.title} className={cellClass(column)}>
                  {column.cell(row)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  </div>
);
