import type { Target } from "../pages";

/** Where a link of an email leads, in a few words: what figures and conditions call it. */
export const linkName = (to: Target): string => {
  switch (to.to) {
    case "next":
      return "next step";
    case "page":
      return `page ${to.page}`;
    case "calendar":
      return `calendar entry ${to.of}`;
    case "launch":
      return `launch ${to.launch}`;
    case "outside":
      return to.url;
    case "checkout":
    case "form":
    case "library":
      return to.to;
  }
};

/** One press of a link of an email that was sent to one person. */
export interface LinkClick {
  link: string;
  at: Date;
}

/** No person follows two links of an email in so many milliseconds, or three in so many. */
const twoWithin = 1_500;
const threeWithin = 10_000;
/** A click counts from so many milliseconds after its page was seen: by then it shows whether all other links were followed as well. */
export const clickSettlesMs = 12_000;

/** Whether links were followed as programs do that look at mail before its reader: several different ones nearly at once (common practice, no source). */
export const followedByMachine = (clicks: readonly LinkClick[]): boolean => {
  const different = (first: LinkClick, within: number): number =>
    new Set(clicks.filter(({ at }) => at >= first.at && at.getTime() - first.at.getTime() <= within).map(({ link }) => link)).size;
  return clicks.some((first) => different(first, twoWithin) >= 2 || different(first, threeWithin) >= 3);
};

/** An order is an email's where it is placed within so many days after a click in it, and no other email was clicked in between. */
export const orderAfterClickDays = 3;
