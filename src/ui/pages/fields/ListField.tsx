import type { ReactNode } from "react";
import { Button } from "../../kit/Button";
import kit from "../../kit/kit.module.css";
import styles from "../editor/editor.module.css";

interface Props<T> {
  label: string;
  items: T[];
  fresh: T;
  /** What one more is called on the button. */
  more: string;
  most: number;
  wrong?: string;
  onChange: (items: T[]) => void;
  children: (item: T, change: (item: T) => void, index: number) => ReactNode;
}

/** A list of entries that can be added to, taken from and put in another order. */
export const ListField = <T,>({ label, items, fresh, more, most, wrong, onChange, children }: Props<T>) => {
  const swap = (a: number, b: number) => {
    const next = [...items];
    [next[a], next[b]] = [next[b]!, next[a]!];
    onChange(next);
  };
  return (
    <fieldset className={styles.list}>
      <legend className={kit.label}>{label}</legend>
      {items.map((item, index) => (
        <div key={index} className={styles.entry}>
          {children(item, (next) => onChange(items.map((one, at) => (at === index ? next : one))), index)}
          <p>
            <button type="button" disabled={index === 0} onClick={() => swap(index, index - 1)} aria-label={`Entry ${index + 1} up`}>
              up
            </button>
            <button type="button" disabled={index === items.length - 1} onClick={() => swap(index, index + 1)} aria-label={`Entry ${index + 1} down`}>
              down
            </button>
            <button type="button" onClick={() => onChange(items.filter((_, at) => at !== index))} aria-label={`Take entry ${index + 1} away`}>
              take away
            </button>
          </p>
        </div>
      ))}
      {wrong && (
        <p className={kit.wrong} role="alert">
          {wrong}
        </p>
      )}
      {items.length < most && <Button onClick={() => onChange([...items, fresh])}>{more}</Button>}
    </fieldset>
  );
};
