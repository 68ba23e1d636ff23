import { z } from "zod";

// As PostgreSQL writes an instant: "2026-11-28 21:25:00.123+00".
const isInstant = (text: string): boolean =>
  /^\d{4}-/.test(text) && !Number.isNaN(Date.parse(text.replace(" ", "T").replace(/([+-]\d\d)$/, "$1:00")));

/** What the column that a list is sorted by holds, as text. */
const keys = { text: z.string(), bigint: z.string().regex(/^-?\d{1,18}$/), timestamptz: z.string().refine(isInstant) };
export type KeyType = keyof typeof keys;
/** What tells rows alike in that column apart. */
const ties = { uuid: z.uuid(), number: z.number().int() };

/**
 * Reads where an earlier part of a long list ended: the value of the column it is sorted by, and what tells rows alike in it apart.
 * Undefined where the text is none of ours, or of a list that was sorted otherwise.
 */
export const readCursor = (text: string | undefined, key: KeyType, tie: keyof typeof ties): [string, string | number] | undefined => {
  if (text === undefined) return undefined;
  try {
    return z.tuple([keys[key], ties[tie]]).safeParse(JSON.parse(text)).data;
  } catch {
    return undefined;
  }
};

/** As `readCursor` reads it back. */
export const writeCursor = (ended: [string, string | number]): string => JSON.stringify(ended);

/** A typed text as the pattern of `like` that finds it anywhere. */
export const anywhere = (typed: string): string =>
  `%${typed
    .trim()
    .toLowerCase()
    .replace(/[\\%_]/g, "\\$&")}%`;
