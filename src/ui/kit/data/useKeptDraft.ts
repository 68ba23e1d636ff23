import { useEffect, useRef } from "react";
import { z } from "zod";

const stored = z.object({ version: z.number(), draft: z.unknown() });
const keyOf = (name: string): string => `ink-bell-draft:${name}`;

const read = (name: string): z.infer<typeof stored> | undefined => {
  try {
    return stored.safeParse(JSON.parse(localStorage.getItem(keyOf(name)) ?? "null")).data;
  } catch {
    return undefined;
  }
};

/**
 * Keeps what was typed and not made yet in this browser, so that leaving the screen loses nothing. `draft` is undefined
 * where there is nothing to keep. What an earlier visit left is handed to `restore`, with whether something else has
 * been saved since.
 */
export const useKeptDraft = (name: string, version: number, draft: unknown, restore: (kept: unknown, overtaken: boolean) => void): void => {
  const restored = useRef(false);
  useEffect(() => {
    if (!restored.current) {
      restored.current = true;
      const kept = read(name);
      if (kept) restore(kept.draft, kept.version !== version);
      return;
    }
    try {
      if (draft === undefined) localStorage.removeItem(keyOf(name));
      else localStorage.setItem(keyOf(name), JSON.stringify({ version, draft }));
    } catch {
      // A browser that keeps nothing: the draft lives as long as the screen.
    }
  }, [name, version, draft, restore]);
};
