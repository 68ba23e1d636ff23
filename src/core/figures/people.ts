import type { Condition, MailDeed } from "../conditions";
import { stages, type Stage } from "../events";

// Whoever is known to have been at a later stage has come, even where their first view was not seen.
const came: Condition = { any: stages.map((stage) => ({ did: stage })) };

/** Whom a stage of the funnel counts. */
export const peopleAtStage = (stage: Stage): Condition => (stage === "visited" ? came : { did: stage });

/** Whom the step between two stages loses. */
export const peopleLost = (reached: Stage, not: Stage): Condition => ({ all: [peopleAtStage(reached), { none: [peopleAtStage(not)] }] });

/** Whom a page counts: who saw it, in whatever variant; of them, who opted in on it, began a checkout, or paid. */
export const peopleOfPage = (page: string, then?: "opted_in" | "began_checkout" | "paid"): Condition => {
  const on = { page: { is: "equals" as const, text: page } };
  const saw: Condition = {
    any: [
      { did: "visited", ...on },
      { did: "saw_sales", ...on },
      { did: "opted_in", ...on },
    ],
  };
  if (!then) return saw;
  return then === "opted_in" ? { did: "opted_in", ...on } : { all: [saw, { did: then }] };
};

/** What of a launch's emails stands beside its stages, in order. */
export const mailStages = ["sent", "opened", "clicked"] as const satisfies readonly MailDeed[];
export type MailStage = (typeof mailStages)[number];
