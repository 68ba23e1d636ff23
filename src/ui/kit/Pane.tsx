import type { ReactNode } from "react";
import styles from "./kit.module.css";

/** The inspector at the right of the work, with its title. */
export const Pane = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className={styles.pane} aria-label={title}>
    <h2>{title}</h2>
    {children}
  </section>
);
