/** The number of an instant's day (UTC), counted from 1970. */
export const dayOf = (at: Date): number => Math.floor(at.getTime() / 86_400_000);
