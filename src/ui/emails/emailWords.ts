import type { EmailSetting } from "../../core/launch";
import { lengthWords } from "../../core/words";
import { dropWords } from "../../core/work";

/** What a launch's opening bell is called: with clocks of one's own it is where each starts. */
export const openingWords = (clock: "fixed" | "recurring" | "personal"): string =>
  clock === "personal" ? "the start of their clock" : "the opening bell";

/** On which bell an email hangs, and how far from it. */
export const hangsWords = (
  { hangsOn, minutes, time }: Pick<EmailSetting, "hangsOn" | "minutes" | "time">,
  clock: "fixed" | "recurring" | "personal",
): string => {
  const bell = hangsOn === "opening" ? openingWords(clock) : "the closing bell";
  if (time !== null && minutes === 0) return `on the day of ${bell}, at ${time}`;
  if (time !== null) return `${lengthWords(Math.abs(minutes))} ${minutes < 0 ? "before" : "after"} ${bell}, at ${time}`;
  return minutes === 0 ? `at ${bell}` : `${lengthWords(Math.abs(minutes))} ${minutes < 0 ? "before" : "after"} ${bell}`;
};

/** Why so many emails were not sent, the most frequent reason first. */
export const droppedWords = (stopped: Readonly<Record<string, number>>): string =>
  Object.entries(stopped)
    .sort(([, a], [, b]) => b - a)
    .map(([because, n]) => `${n.toLocaleString("en")} because ${dropWords[because] ?? because}`)
    .join("; ");

/** How many were not sent, for whatever reason. */
export const droppedOf = ({ stopped }: { stopped: Readonly<Record<string, number>> }): number =>
  Object.values(stopped).reduce((sum, n) => sum + n, 0);

/** A count as a table shows it: nothing for none. */
export const whole = (n: number | undefined): string => (n ? n.toLocaleString("en") : "");
