import { useEffect } from "react";
import styles from "./kit.module.css";
import { putAway, sayWhatWasLeft, useNotice } from "./notices";

/** Where the screen says what was done. Part of the desk's frame. */
export const NoticeBar = () => {
  const notice = useNotice();
  useEffect(() => {
    // After the first drawing, so that it is announced.
    const timer = setTimeout(sayWhatWasLeft, 50);
    return () => clearTimeout(timer);
  }, []);
  return (
    <div role="status" aria-live="polite">
      {notice && (
        <div className={notice.loss ? `${styles.notice} ${styles.loss}` : styles.notice}>
          <p>{notice.text}</p>
          <button
            type="button"
            onClick={() => {
              putAway();
              document.querySelector("main")?.focus();
            }}
          >
            Dismiss
          </button>
        </div>
      )}
    </div>
  );
};
