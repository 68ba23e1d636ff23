import { useRef, useState } from "react";
import styles from "./kit.module.css";

/** A text to be pasted elsewhere, with one press that copies it. `what` names it: “Copy the link”. */
export const CopyText = ({ text, what }: { text: string; what: string }) => {
  const code = useRef<HTMLElement>(null);
  const [said, setSaid] = useState("");
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      setSaid("Copied");
    } catch {
      // Without a clipboard, on a plain local network, it is marked, to be copied by the keyboard.
      if (code.current) getSelection()?.selectAllChildren(code.current);
      setSaid("Marked: copy it with the keyboard");
    }
  };
  return (
    <div className={styles.copy}>
      <code ref={code}>{text}</code>
      <button type="button" aria-label={`Copy ${what}`} onClick={() => void copy()} onBlur={() => setSaid("")}>
        Copy
      </button>
      <span role="status">{said}</span>
    </div>
  );
};
