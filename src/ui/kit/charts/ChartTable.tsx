import type { ReactNode } from "react";
import kit from "../kit.module.css";
import styles from "./charts.module.css";

export interface ChartTableProps {
  /** What the figures are of; names the table. */
  name: string;
  /** The first column names the row, the others are figures. */
  columns: string[];
  rows: ReactNode[][];
}

/** The figures behind a drawing, as a table that opens below it. */
export const ChartTable = ({ name, columns, rows }: ChartTableProps) => (
  <details className={styles.behind}>
    <summary>{name} as a table</summary>
    <div className={styles.rows} tabIndex={0} role="region" aria-label={`${name}: table`}>
      <table className={kit.table}>
        <thead>
          <tr>
            {columns.map((column, index) => (
              <th key={column} scope="col" className={index > 0 ? kit.figure : undefined}>
                {column}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([first, ...figures], row) => (
            <tr key={row}>
              <th scope="row">{first}</th>
              {figures.map((figure, index) => (
                <td key={index} className={kit.figure}>
                  {figure}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  </details>
);
