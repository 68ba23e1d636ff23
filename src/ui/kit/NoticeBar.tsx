import { useEffect } from "react";
import { focusWork, keepFocus } from "./data/keepFocus";
import styles from "./kit.module.css";
import { putAway, sayWhatWasLeft, useNotice } from "./notices";

/** Where the screen says what was done, and what keeps the focus on it. Part of the desk's frame. */
export const NoticeBar = () => {
  const notice = useNotice();
  useEffect(keepFocus, []);
  // What was pressed may have loaded the page anew.
  useEffect(() => {
    if (!notice) return;
    const timer = setTimeout(focusWork, 60);
    return () => clearTimeout(timer);
  }, [notice]);
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
          <button type="button" onClick={putAway}>
            Dismiss
          </button>
        </div>
      )}
    </div>
  );
};
