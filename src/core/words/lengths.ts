import { counted } from "./counted";

/** `2 days`, `1 hour 30 minutes`: a length of time in words, its empty parts left out. */
export const lengthWords = (minutes: number): string =>
  [[Math.floor(minutes / 1440), "day"] as const, [Math.floor(minutes / 60) % 24, "hour"] as const, [minutes % 60, "minute"] as const]
    .filter(([n], index) => n > 0 || (index === 2 && minutes === 0))
    .map(([n, unit]) => counted(n, unit))
    .join(" ");
