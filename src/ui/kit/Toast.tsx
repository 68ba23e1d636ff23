import { useCallback, useEffect, useState } from "react";
import styles from "./kit.module.css";

const afterReload = "ink-bell-said";

/** Loads the screen anew, and says there what was done. */
export const reloadSaying = (text: string): void => {
  sessionStorage.setItem(afterReload, text);
  location.reload();
};

/** A short word at the foot of the screen that goes by itself; errors stay until the next one. */
export const useToast = () => {
  const [said, setSaid] = useState<{ text: string; loss: boolean }>();
  const say = useCallback((text: string, loss = false) => {
    setSaid({ text, loss });
    if (!loss) setTimeout(() => setSaid((now) => (now?.text === text ? undefined : now)), 6000);
  }, []);
  useEffect(() => {
    const text = sessionStorage.getItem(afterReload);
    if (!text) return;
    sessionStorage.removeItem(afterReload);
    // Set after the first drawing, so that what is said is announced.
    const timer = setTimeout(() => say(text), 50);
    return () => clearTimeout(timer);
  }, [say]);
  const toast = (
    <div role="status" aria-live="polite">
      {said && <p className={said.loss ? `${styles.toast} ${styles.loss}` : styles.toast}>{said.text}</p>}
    </div>
  );
  return { say, toast };
};
