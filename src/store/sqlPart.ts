import { sql, type RawQueryFragment } from "@mikro-orm/postgresql";

/** A part of a statement with the values of its holes; it stands in a statement where a value would, and may hold other parts. */
export const sqlPart = (strings: TemplateStringsArray, ...values: unknown[]): RawQueryFragment => sql(strings, ...values) as RawQueryFragment;
