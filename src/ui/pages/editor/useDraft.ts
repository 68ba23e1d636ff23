import { saveDraft } from "../../../contract/pages";
import { useCallback, useEffect, useRef, useState } from "react";
import { begin, pageContent, record, redo, settle, undo, type History, type PageContent } from "../../../core/pages";
import { call } from "../../kit/data/call";

/** Typing rests for so long before it is saved. */
const restMs = 600;

export type Status = "saved" | "saving" | "conflict" | "wrong" | "offline";

/** A page's draft with its history, saved by itself. Where somebody else has saved meanwhile it holds, and says so. */
export const useDraft = (id: string, first: PageContent, firstVersion: number) => {
  const [history, setHistory] = useState<History<PageContent>>(() => begin(first));
  const [status, setStatus] = useState<Status>("saved");
  const [version, setVersion] = useState(firstVersion);
  const kept = useRef({ content: first, version: firstVersion, busy: false });
  const content = history.present;

  const save = useCallback(
    async (next: PageContent, over?: number) => {
      if (!pageContent.safeParse(next).success) return setStatus("wrong");
      kept.current.busy = true;
      setStatus("saving");
      const answer = await call(saveDraft, { params: { id }, request: { content: next, version: over ?? kept.current.version } });
      kept.current.busy = false;
      if (answer.ok) {
        kept.current = { content: next, version: answer.value.version, busy: false };
        setVersion(answer.value.version);
        setStatus("saved");
      } else setStatus(answer.code === "changed_meanwhile" ? "conflict" : answer.code === "fields" ? "wrong" : "offline");
    },
    [id],
  );

  useEffect(() => {
    if (content === kept.current.content || status === "conflict" || status === "saving") return;
    const timer = setTimeout(() => void save(content), status === "offline" ? 4000 : restMs);
    return () => clearTimeout(timer);
  }, [content, status, save]);

  // Leaving never loses work: what still rests is sent on the way out.
  useEffect(() => {
    const leave = () => {
      const { content: last, version: from, busy } = kept.current;
      if (busy || content === last || status === "conflict" || !pageContent.safeParse(content).success) return;
      void call(saveDraft, { params: { id }, request: { content, version: from }, leaving: true });
    };
    addEventListener("pagehide", leave);
    return () => removeEventListener("pagehide", leave);
  }, [content, status, id]);

  return {
    content,
    // What was typed a moment ago still rests, and is not saved yet.
    status: status === "saved" && content !== kept.current.content ? ("saving" as const) : status,
    version,
    change: useCallback(
      (change: (content: PageContent) => PageContent, key?: string) => setHistory((now) => record(now, change(now.present), key)),
      [],
    ),
    settle: useCallback(() => setHistory(settle), []),
    undo: history.past.length > 0 ? () => setHistory(undo) : undefined,
    redo: history.future.length > 0 ? () => setHistory(redo) : undefined,
    /** Takes over what the server has, as a step that can be undone. */
    take: useCallback((next: PageContent, at: number) => {
      kept.current = { content: next, version: at, busy: false };
      setVersion(at);
      setStatus("saved");
      setHistory((now) => record(now, next));
    }, []),
    /** Saves what stands here although somebody else saved meanwhile; theirs stays in the history. */
    keepMine: (theirs: number) => void save(content, theirs),
  };
};
