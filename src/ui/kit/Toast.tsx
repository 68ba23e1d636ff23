import { useCallback, useState } from "react";
import styles from "./kit.module.css";

/** A short word at the foot of the screen that goes by itself; errors stay until the next one. */
export const useToast = () => {
  const [said, setSaid] = useState<{ text: string; loss: boolean }>();
  const say = useCallback((text: string, loss = false) => {
    setSaid({ text, loss });
    if (!loss) setTimeout(() => setSaid((now) => (now?.text === text ? undefined : now)), 3500);
  }, []);
  const toast = (
    <div role="status" aria-live="polite">
      {said && <p className={said.loss ? `${styles.toast} ${styles.loss}` : styles.toast}>{said.text}</p>}
    </div>
  );
  return { say, toast };
};
