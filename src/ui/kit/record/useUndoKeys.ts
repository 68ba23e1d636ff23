import { useEffect } from "react";

interface Steps {
  undo: (() => void) | undefined;
  redo: (() => void) | undefined;
}

/** Undoes and redoes by the keys that everybody knows for it. */
export const useUndoKeys = ({ undo, redo }: Steps): void => {
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
      event.preventDefault();
      (event.shiftKey ? redo : undo)?.();
    };
    addEventListener("keydown", keys);
    return () => removeEventListener("keydown", keys);
  }, [undo, redo]);
};
