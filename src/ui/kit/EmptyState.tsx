import type { ReactNode } from "react";
import styles from "./kit.module.css";

/** Says what will be here, and offers the first step. */
export const EmptyState = ({ title, says, children }: { title: string; says: string; children?: ReactNode }) => (
  <div className={styles.empty}>
    <h2>{title}</h2>
    <p>{says}</p>
    {children}
  </div>
);
