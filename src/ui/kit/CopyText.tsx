import { useRef } from "react";
import styles from "./kit.module.css";
import { say } from "./notices";

/** A text to be pasted elsewhere, with one press that copies it. `what` names it: “Copy the link”. */
export const CopyText = ({ text, what }: { text: string; what: string }) => {
  const code = useRef<HTMLElement>(null);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      say(`Copied: ${what}.`);
    } catch {
      // Without a clipboard, on a plain local network, it is marked, to be copied by the keyboard.
      const selection = getSelection();
      if (code.current) selection?.selectAllChildren(code.current);
      say("This browser does not copy here by itself. It is marked: copy it with the keyboard.", true);
    }
  };
  return (
    <div className={styles.copy}>
      <code ref={code}>{text}</code>
      <button type="button" aria-label={`Copy ${what}`} onClick={() => void copy()}>
        Copy
      </button>
    </div>
  );
};
