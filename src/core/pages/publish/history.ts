/** What was, is, and can be done again. Every state is kept whole; they share all that did not change. */
export interface History<T> {
  past: T[];
  present: T;
  future: T[];
  /** What the latest change was about; more of the same is one step. */
  key?: string;
}

export const begin = <T>(present: T): History<T> => ({ past: [], present, future: [] });

/** Takes a change in. Changes with the same key, one after the other, such as the letters of a word, are undone together. */
export const record = <T>(history: History<T>, next: T, key?: string): History<T> => {
  if (next === history.present) return history;
  if (key !== undefined && key === history.key) return { ...history, present: next, future: [] };
  return { past: [...history.past, history.present], present: next, future: [], key };
};

/** Ends a run of changes with one key: the next one is a step of its own. */
export const settle = <T>(history: History<T>): History<T> => ({ ...history, key: undefined });

export const undo = <T>({ past, present, future }: History<T>): History<T> =>
  past.length === 0 ? { past, present, future } : { past: past.slice(0, -1), present: past.at(-1)!, future: [present, ...future] };

export const redo = <T>({ past, present, future }: History<T>): History<T> =>
  future.length === 0 ? { past, present, future } : { past: [...past, present], present: future[0]!, future: future.slice(1) };
