const parts = (ms: number) => {
  const seconds = Math.max(0, Math.ceil(ms / 1000));
  return {
    days: Math.floor(seconds / 86_400),
    hours: Math.floor(seconds / 3600) % 24,
    minutes: Math.floor(seconds / 60) % 60,
    seconds: seconds % 60,
  };
};
const two = (n: number) => String(n).padStart(2, "0");

/** The figure of a countdown: `2 d 04:17:32`, or `04:17:32` within the last day. Milliseconds in. */
export const countdownFigure = (ms: number): string => {
  const { days, hours, minutes, seconds } = parts(ms);
  return `${days > 0 ? `${days} d ` : ""}${two(hours)}:${two(minutes)}:${two(seconds)}`;
};
