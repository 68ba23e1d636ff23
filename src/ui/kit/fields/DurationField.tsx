import { useId, useState } from "react";
import styles from "../kit.module.css";

const units = { minutes: 1, hours: 60, days: 1440 } as const;
type Unit = keyof typeof units;

const largest = (minutes: number): Unit =>
  minutes !== 0 && minutes % 1440 === 0 ? "days" : minutes !== 0 && minutes % 60 === 0 ? "hours" : "minutes";

interface Props {
  label: string;
  minutes: number;
  wrong?: string;
  hint?: string;
  onChange: (minutes: number) => void;
}

/** A length of time as a number and its unit; kept in minutes. */
export const DurationField = ({ label, minutes, wrong, hint, onChange }: Props) => {
  const id = useId();
  const [unit, setUnit] = useState<Unit>(largest(minutes));
  const set = (value: number, of: Unit) => onChange(Math.round(value * units[of]));
  return (
    <div className={styles.field}>
      <label className={styles.label} htmlFor={id}>
        {label}
      </label>
      <div className={styles.duration}>
        <input
          id={id}
          className={styles.control}
          type="number"
          min={0}
          step="any"
          value={Number.isNaN(minutes) ? "" : minutes / units[unit]}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={wrong || hint ? `${id}-says` : undefined}
          onChange={(event) => set(event.currentTarget.valueAsNumber, unit)}
        />
        <select
          className={styles.control}
          aria-label={`${label}: unit`}
          value={unit}
          onChange={(event) => {
            const next = event.currentTarget.value as Unit;
            set(minutes / units[unit], next);
            setUnit(next);
          }}
        >
          {Object.keys(units).map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </div>
      {(wrong ?? hint) && (
        <p id={`${id}-says`} className={wrong ? styles.wrong : styles.hint} role={wrong ? "alert" : undefined}>
          {wrong ?? hint}
        </p>
      )}
    </div>
  );
};
