import { useEffect, useRef, type ReactNode } from "react";
import { Button } from "./Button";
import styles from "./kit.module.css";

interface Props {
  title: string;
  /** What the button does, in words that name the consequence. */
  confirm: string;
  /** Whether something is lost by it: the button is drawn so. */
  destructive?: boolean;
  onConfirm: () => void;
  onClose: () => void;
  children: ReactNode;
}

/** Asks before something that cannot be undone. The platform's own dialog keeps the focus inside and closes on Escape. */
export const Dialog = ({ title, confirm, destructive = false, onConfirm, onClose, children }: Props) => {
  const ref = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const before = document.activeElement;
    ref.current?.showModal();
    return () => {
      // Taken off the page it gives the focus to nobody.
      if (before instanceof HTMLElement && document.activeElement === document.body) before.focus();
    };
  }, []);
  return (
    <dialog ref={ref} className={styles.dialog} aria-label={title} onClose={onClose}>
      <h2>{title}</h2>
      {children}
      <div className={styles.dialogButtons}>
        <Button onClick={onClose}>Cancel</Button>
        <Button main={!destructive} destructive={destructive} onClick={onConfirm}>
          {confirm}
        </Button>
      </div>
    </dialog>
  );
};
