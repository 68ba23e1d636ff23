import { useId, type SelectHTMLAttributes } from "react";
import styles from "../kit.module.css";

interface Props extends SelectHTMLAttributes<HTMLSelectElement> {
  label: string;
  hideLabel?: boolean;
  options: { value: string; label: string }[];
  wrong?: string;
}

/** A labelled choice from a list. */
export const Select = ({ label, hideLabel = false, options, wrong, ...rest }: Props) => {
  const id = useId();
  return (
    <div className={hideLabel ? undefined : styles.field}>
      <label className={hideLabel ? "visually-hidden" : styles.label} htmlFor={id}>
        {label}
      </label>
      <select id={id} className={styles.control} aria-invalid={wrong ? true : undefined} {...rest}>
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </select>
      {wrong && (
        <p className={styles.wrong} role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
};
