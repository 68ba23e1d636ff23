import type { Finding } from "../../core/offers";
import styles from "./offers.module.css";

/** What is missing or advised at one place of the path, with its remedy. */
export const Findings = ({ findings }: { findings: Finding[] }) => (
  <>
    {findings.map(({ code, blocking, says, why }) => (
      <p key={code + says} className={blocking ? styles.finding : styles.advice} data-finding={code}>
        <b>{says}</b> {why}
      </p>
    ))}
  </>
);
