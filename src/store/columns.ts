import { p } from "@mikro-orm/core";

/** An amount in minor units: a bigint column read as a number, since amounts stay far below 2^53. */
export const minor = () => p.bigint("number");
/** A count that may grow large, read as a number likewise. */
export const count = () => p.bigint("number");
/** An instant. */
export const at = () => p.datetime();
