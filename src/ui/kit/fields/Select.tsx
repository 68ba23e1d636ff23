import { useId } from "react";
import styles from "../kit.module.css";

export interface Option<T extends string> {
  value: T;
  label: string;
}

/** The options of a list of words, in its order. */
export const optionsOf = <T extends string>(words: Readonly<Partial<Record<T, string>>>): Option<T>[] =>
  (Object.keys(words) as T[]).map((value) => ({ value, label: words[value]! }));

interface Props<T extends string> {
  label: string;
  hideLabel?: boolean;
  value: T;
  options: readonly Option<NoInfer<T>>[];
  hint?: string | undefined;
  wrong?: string | undefined;
  disabled?: boolean;
  onChange: (value: NoInfer<T>) => void;
}

/** A labelled choice from a list; what it hands on is one of its options. */
export const Select = <T extends string>({ label, hideLabel = false, value, options, hint, wrong, disabled, onChange }: Props<T>) => {
  const id = useId();
  const says = wrong ?? hint;
  return (
    <div className={hideLabel ? undefined : styles.field}>
      <label className={hideLabel ? "visually-hidden" : styles.label} htmlFor={id}>
        {label}
      </label>
      <select
        id={id}
        className={styles.control}
        value={value}
        disabled={disabled}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={says ? `${id}-says` : undefined}
        onChange={(event) => {
          const picked = options.find((option) => option.value === event.currentTarget.value);
          if (picked) onChange(picked.value);
        }}
      >
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </select>
      {says && (
        <p id={`${id}-says`} className={wrong ? styles.wrong : styles.hint} role={wrong ? "alert" : undefined}>
          {says}
        </p>
      )}
    </div>
  );
};
