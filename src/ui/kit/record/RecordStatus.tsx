import type { RecordState, RecordStatus as Status } from "./useRecord";
import styles from "./record.module.css";

export const statusWords: Record<Status, string> = {
  saved: "saved",
  saving: "saving…",
  conflict: "not saved: somebody else was faster",
  wrong: "not saved: a field needs another look",
  offline: "not saved yet: the server does not answer",
};

/** How a record stands, and the way back from the newest change. */
export const RecordStatus = ({
  record,
  untouched,
}: {
  record: Pick<RecordState<unknown>, "status" | "undo" | "redo" | "version">;
  untouched: string;
}) => (
  <div className={styles.status}>
    <p role="status">
      {record.status === "saved" && !record.undo && !record.redo
        ? untouched
        : `${statusWords[record.status].charAt(0).toUpperCase()}${statusWords[record.status].slice(1)}.`}
      {record.status === "conflict" && (
        <>
          {" "}
          <a href="">Reload to see theirs</a>; what you typed is lost with it.
        </>
      )}
    </p>
    <button type="button" disabled={!record.undo} onClick={record.undo}>
      Undo
    </button>
    <button type="button" disabled={!record.redo} onClick={record.redo}>
      Redo
    </button>
  </div>
);
