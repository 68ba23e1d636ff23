import { z } from "zod";

/** Where a part of a long list ended: the value of the column it is sorted by, as text, and what tells rows alike in it apart. */
const cursor = z.tuple([z.string(), z.union([z.string(), z.number()])]);
export type Cursor = z.infer<typeof cursor>;

/** Reads where an earlier part ended; undefined where the text is none of ours. */
export const readCursor = (text: string | undefined): Cursor | undefined => {
  if (text === undefined) return undefined;
  try {
    return cursor.safeParse(JSON.parse(text)).data;
  } catch {
    return undefined;
  }
};

/** As `readCursor` reads it back. */
export const writeCursor = (ended: Cursor): string => JSON.stringify(ended);

/** A typed text as the pattern of `like` that finds it anywhere. */
export const anywhere = (typed: string): string =>
  `%${typed
    .trim()
    .toLowerCase()
    .replace(/[\\%_]/g, "\\$&")}%`;
