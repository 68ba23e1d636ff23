import { say } from "../notices";
import type { RecordState, RecordStatus as Status } from "./useRecord";
import styles from "./record.module.css";

export const statusWords: Record<Status, string> = {
  saved: "saved",
  saving: "saving…",
  conflict: "not saved: somebody else saved it meanwhile",
  wrong: "not saved: a field needs another look",
  offline: "not saved yet: the server does not answer",
};

interface Props<T> {
  record: Pick<RecordState<T>, "status" | "undo" | "redo" | "version" | "take" | "keepMine">;
  untouched: string;
  /** Reads what the server has now; undefined where it could not be read, which was said then. */
  readTheirs: () => Promise<{ content: T; version: number } | undefined>;
}

/** How a record stands, the way back from the newest change, and, where somebody else saved meanwhile, the choice whose version stays. */
export const RecordStatus = <T,>({ record, untouched, readTheirs }: Props<T>) => {
  const decide = async (mine: boolean) => {
    const theirs = await readTheirs();
    if (!theirs) return;
    if (mine) return record.keepMine(theirs.version);
    record.take(theirs.content, theirs.version);
    say("Theirs stands here now. Undo brings yours back.");
  };
  return (
    <div className={styles.status}>
      <p role="status">
        {record.status === "saved" && !record.undo && !record.redo
          ? untouched
          : `${statusWords[record.status].charAt(0).toUpperCase()}${statusWords[record.status].slice(1)}.`}
      </p>
      {record.status === "conflict" && (
        <>
          <button type="button" onClick={() => void decide(false)}>
            Take theirs
          </button>
          <button type="button" onClick={() => void decide(true)}>
            Keep mine
          </button>
        </>
      )}
      <button type="button" disabled={!record.undo} onClick={record.undo}>
        Undo
      </button>
      <button type="button" disabled={!record.redo} onClick={record.redo}>
        Redo
      </button>
    </div>
  );
};
