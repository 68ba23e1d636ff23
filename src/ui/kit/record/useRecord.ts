import { useCallback, useEffect, useRef, useState } from "react";
import { begin, record, redo, settle, undo, type History } from "../../../core/pages";
import type { Answer } from "../data/call";

/** How a record stands with the server. `conflict`: somebody else saved it meanwhile. `wrong`: a field was refused. */
export type RecordStatus = "saved" | "saving" | "conflict" | "wrong" | "offline";

interface Asked<T> {
  first: T;
  version: number;
  /** What is typed is saved once it has rested for so long; without it, once its field is left. */
  restMs?: number;
  /** Whether it can be sent as it stands; what cannot is `wrong` without being asked. */
  whole?: (content: T) => boolean;
  save: (content: T, version: number, leaving: boolean) => Promise<Answer<{ version: number }>>;
}

const retryMs = 4_000;

/**
 * One record that is saved as it is changed, under the version it was read at, with undo and redo. One save follows the other; a server that
 * does not answer is asked again; what somebody else saved meanwhile is not overwritten; and what is not saved yet goes out with who leaves.
 */
export const useRecord = <T>({ first, version: firstVersion, restMs, whole = () => true, save }: Asked<T>) => {
  const [history, setHistory] = useState<History<T>>(() => begin(first));
  const [status, setStatus] = useState<RecordStatus>("saved");
  const [version, setVersion] = useState(firstVersion);
  const [fields, setFields] = useState<Record<string, string>>({});
  const [settled, setSettled] = useState(true);
  const kept = useRef({ content: first, version: firstVersion, busy: false });
  const refused = useRef<T>(undefined);
  // The newest of what is handed in, so that a save that waits does not hold on to an old one.
  const by = useRef({ whole, save });
  useEffect(() => {
    by.current = { whole, save };
  });
  const content = history.present;

  const saveNow = useCallback(async (next: T, over?: number) => {
    if (!by.current.whole(next)) {
      refused.current = next;
      return setStatus("wrong");
    }
    kept.current.busy = true;
    setStatus("saving");
    const answer = await by.current.save(next, over ?? kept.current.version, false);
    kept.current.busy = false;
    if (answer.ok) {
      kept.current = { content: next, version: answer.value.version, busy: false };
      setVersion(answer.value.version);
      setFields({});
      return setStatus("saved");
    }
    setFields(answer.fields);
    // Asked again only where the answer may be another one.
    const unreached = answer.code === "no_connection" || answer.code === "not_understood";
    if (!unreached) refused.current = next;
    setStatus(answer.code === "changed_meanwhile" ? "conflict" : unreached ? "offline" : "wrong");
  }, []);

  const rests = settled || restMs !== undefined;
  useEffect(() => {
    // Undone to what is saved: nothing is wrong any more, and nothing waits.
    if (content === kept.current.content && (status === "wrong" || status === "offline")) {
      setFields({});
      return setStatus("saved");
    }
    if (content === kept.current.content || content === refused.current || !rests || status === "conflict" || status === "saving") return;
    const timer = setTimeout(() => void saveNow(content), status === "offline" ? retryMs : settled ? 0 : restMs);
    return () => clearTimeout(timer);
  }, [content, status, rests, settled, restMs, saveNow]);

  // Leaving never loses work: what still rests is sent on the way out.
  useEffect(() => {
    const leave = () => {
      const { content: last, version: from, busy } = kept.current;
      if (busy || content === last || content === refused.current || status === "conflict" || !by.current.whole(content)) return;
      void by.current.save(content, from, true);
    };
    addEventListener("pagehide", leave);
    return () => removeEventListener("pagehide", leave);
  }, [content, status]);

  const step = (to: (history: History<T>) => History<T>) => () => {
    setHistory(to);
    setSettled(true);
  };
  return {
    content,
    // What was typed a moment ago still rests, and is not saved yet.
    status: status === "saved" && content !== kept.current.content && rests ? ("saving" as const) : status,
    version,
    /** What the server objects to, by field. */
    fields,
    /** Changes it. Changes with one key, one after the other, such as the letters of a word, are one step, which lasts until `settle`. */
    change: useCallback((change: (content: T) => T, key?: string) => {
      setHistory((now) => record(now, change(now.present), key));
      setSettled(key === undefined);
    }, []),
    settle: useCallback(() => {
      setHistory(settle);
      setSettled(true);
    }, []),
    undo: history.past.length > 0 ? step(undo) : undefined,
    redo: history.future.length > 0 ? step(redo) : undefined,
    /** Takes over what the server has, as a step that can be undone. */
    take: useCallback((next: T, at: number) => {
      kept.current = { content: next, version: at, busy: false };
      // What was refused against the older version may be saved over the newer one.
      refused.current = undefined;
      setVersion(at);
      setStatus("saved");
      setHistory((now) => record(now, next));
    }, []),
    /** Saves what stands here although somebody else saved meanwhile. */
    keepMine: (theirs: number) => void saveNow(content, theirs),
  };
};
export type RecordState<T> = ReturnType<typeof useRecord<T>>;
