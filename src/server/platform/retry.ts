/** How long work waits after so many tries: two seconds, doubled each time, a quarter of an hour at most. It is never given up. */
export const retryDelayMs = (tries: number): number => Math.min(15 * 60_000, 2_000 * 2 ** Math.min(20, Math.max(0, tries - 1)));
