import { useState } from "react";
import { Field } from "./Field";
import { Select } from "./Select";
import styles from "./kit.module.css";

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
  const [unit, setUnit] = useState<Unit>(largest(minutes));
  const set = (value: number, of: Unit) => onChange(Math.round(value * units[of]));
  return (
    <div className={styles.duration}>
      <Field
        label={label}
        type="number"
        min={0}
        step="any"
        value={Number.isNaN(minutes) ? "" : minutes / units[unit]}
        wrong={wrong}
        hint={hint}
        onChange={(event) => set(event.currentTarget.valueAsNumber, unit)}
      />
      <Select
        label={`${label}: unit`}
        hideLabel
        value={unit}
        options={Object.keys(units).map((name) => ({ value: name, label: name }))}
        onChange={(event) => {
          const next = event.currentTarget.value as Unit;
          set(minutes / units[unit], next);
          setUnit(next);
        }}
      />
    </div>
  );
};
