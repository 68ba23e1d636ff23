import { useId, type InputHTMLAttributes, type TextareaHTMLAttributes } from "react";
import styles from "../kit.module.css";

interface Labelled {
  label: string;
  hint?: string;
  wrong?: string;
}
type Props = Labelled &
  (({ rows: number } & TextareaHTMLAttributes<HTMLTextAreaElement>) | ({ rows?: undefined } & InputHTMLAttributes<HTMLInputElement>));

/** A labelled field with its hint and, where the server or a rule objects, the reason beside it. */
export const Field = ({ label, hint, wrong, ...rest }: Props) => {
  const id = useId();
  const described = {
    id,
    className: styles.control,
    "aria-invalid": wrong ? true : undefined,
    "aria-describedby": wrong || hint ? `${id}-says` : undefined,
  };
  return (
    <div className={styles.field}>
      <label className={styles.label} htmlFor={id}>
        {label}
      </label>
      {rest.rows === undefined ? <input {...described} {...rest} /> : <textarea {...described} {...rest} />}
      {(wrong || hint) && (
        <p id={`${id}-says`} className={wrong ? styles.wrong : styles.hint} role={wrong ? "alert" : undefined}>
          {wrong ?? hint}
        </p>
      )}
    </div>
  );
};
