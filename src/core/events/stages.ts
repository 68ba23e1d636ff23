/** The stages a person passes, in order; the roll-up keeps the first time at each. */
export const stages = ["visited", "opted_in", "saw_sales", "began_checkout", "paid"] as const;
export type Stage = (typeof stages)[number];
