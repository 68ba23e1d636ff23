import { useEffect, useRef, type RefObject } from "react";
import { fieldText, mergeFields, type MergeField } from "../../../core/emails";
import { say } from "../../kit/notices";
import styles from "../emails.module.css";

interface Props {
  /** The fields that there are for this email. */
  fields: readonly MergeField[];
  /** Where the texts are typed that a field may be put into. */
  within: RefObject<HTMLElement | null>;
}

/** What stands there at first for whoever has none. */
const usual: Partial<Record<MergeField, string>> = { "first name": "there", partner: "a friend" };

/** Puts a field into the text that was typed in last, at its caret. */
export const FieldChips = ({ fields, within }: Props) => {
  const last = useRef<HTMLElement>(undefined);
  useEffect(() => {
    const pane = within.current;
    const note = ({ target }: FocusEvent) => {
      if (target instanceof HTMLElement && target.matches("input[type=text], input:not([type]), textarea, [contenteditable=true]"))
        last.current = target;
    };
    pane?.addEventListener("focusin", note);
    return () => pane?.removeEventListener("focusin", note);
  }, [within]);
  const put = (field: MergeField) => {
    const text = fieldText(field, usual[field]);
    const into = last.current;
    if (!into?.isConnected) {
      void navigator.clipboard?.writeText(text);
      return say(`${text} is copied: paste it where it shall stand.`);
    }
    into.focus();
    // The one way to type for somebody that fields and editors alike take for typing, so that it can be undone.
    document.execCommand("insertText", false, text);
  };
  return (
    <details className={styles.chips}>
      <summary>Put in a field</summary>
      <ul>
        {fields.map((field) => (
          <li key={field}>
            <button type="button" onMouseDown={(event) => event.preventDefault()} onClick={() => put(field)}>
              {field}
            </button>{" "}
            <span className="muted">{mergeFields[field]}</span>
          </li>
        ))}
      </ul>
    </details>
  );
};
