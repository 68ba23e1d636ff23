import { faultIssue } from "../words";
import { z } from "zod";
import { mostDays } from "../conditions";

/** What is not kept for good, if the vendor says so; each with the fewest days for which it is needed. */
export const retained = {
  /** What people did, one by one. Figures are kept by themselves. */
  log: 30,
  /** How often each person came on which day: conditions look back over it. */
  visits: 30,
  /** What an email that went out was made from. That it went is kept: it must not go twice. */
  mail: 30,
  /** Notices of outside services, as they came. */
  notices: 30,
  /** Checkouts that nobody paid, with what was typed into them. */
  checkouts: 30,
  /** Name and address that orders keep of buyers who asked to be erased: as long as the law has books kept. */
  buyers: 365,
} as const;
export type Retained = keyof typeof retained;
/** How many days each is kept; what is left out is kept for good. */
export type Retention = Partial<Record<Retained, number>>;

export const longestKept = 3_650;

/** What the desk sends to keep something for so many days, or for good. */
export const retentionRequest = z
  .object({
    what: z.enum(Object.keys(retained) as [Retained, ...Retained[]]),
    days: z.number().int().nullable(),
  })
  .superRefine(({ what, days }, context) => {
    if (days === null) return;
    if (days > longestKept) context.addIssue(faultIssue(["days"], { code: "retention_long", most: longestKept }));
    if (days < retained[what]) context.addIssue(faultIssue(["days"], { code: "retention_short", least: retained[what] }));
  });
export type RetentionRequest = z.infer<typeof retentionRequest>;

/** Whether conditions can look back further than visits are kept. */
export const cutsConditions = ({ visits }: Retention): boolean => visits !== undefined && visits < mostDays;
