import { useId } from "react";
import styles from "./ChoiceCards.module.css";

export interface Choice<T extends string> {
  value: T;
  title: string;
  says: string;
}

interface Props<T extends string> {
  legend: string;
  value: T;
  choices: readonly Choice<NoInfer<T>>[];
  onChange: (value: NoInfer<T>) => void;
}

/** A choice among few, each with what it means: radio buttons that are as large as their words. */
export const ChoiceCards = <T extends string>({ legend, value, choices, onChange }: Props<T>) => {
  const name = useId();
  return (
    <fieldset className={styles.choices}>
      <legend>{legend}</legend>
      {choices.map((choice) => (
        <label key={choice.value} className={styles.choice}>
          <input type="radio" name={name} checked={choice.value === value} onChange={() => onChange(choice.value)} />
          <span>
            <b>{choice.title}</b>
            <br />
            {choice.says}
          </span>
        </label>
      ))}
    </fieldset>
  );
};
