import { partsOf, type Condition } from "./condition";

/** What is asked in one row: a condition that is no group, or that it does not hold. */
export interface ConditionRow {
  not: boolean;
  asked: Condition;
}
/** A condition of one level: all of its rows hold, or any of them. */
export interface ConditionRows {
  join: "all" | "any";
  rows: ConditionRow[];
}

const rowOf = (one: Condition): ConditionRow | undefined => {
  if (!partsOf(one)) return { not: false, asked: one };
  const [only, ...more] = "none" in one ? one.none : [];
  return only && more.length === 0 && !partsOf(only) ? { not: true, asked: only } : undefined;
};

/** A condition as rows; undefined where groups stand inside of one another. */
export const rowsOf = (one: Condition): ConditionRows | undefined => {
  const row = rowOf(one);
  if (row) return { join: "all", rows: [row] };
  // That none holds is that each does not.
  if ("none" in one) {
    const asked = one.none.filter((part) => !partsOf(part));
    return asked.length === one.none.length ? { join: "all", rows: asked.map((part) => ({ not: true, asked: part })) } : undefined;
  }
  const rows = (partsOf(one) ?? []).map(rowOf);
  return rows.every((each) => each !== undefined) ? { join: "all" in one ? "all" : "any", rows } : undefined;
};

/** The condition that rows make; undefined where there are none. */
export const conditionOfRows = ({ join, rows }: ConditionRows): Condition | undefined => {
  const parts = rows.map(({ not, asked }): Condition => (not ? { none: [asked] } : asked));
  if (parts.length <= 1) return parts[0];
  return join === "all" ? { all: parts } : { any: parts };
};
