/** One version of a page in a test: its name, A to D, and its share of the visitors against the others'. */
export interface Arm {
  variant: string;
  weight: number;
}

/** A number in [0, 1) that is the same for the same text, and spread evenly over texts (FNV-1a, then the finaliser of MurmurHash3). */
export const unitHash = (text: string): number => {
  let hash = 0x811c9dc5;
  for (let index = 0; index < text.length; index += 1) hash = Math.imul(hash ^ text.charCodeAt(index), 0x01000193);
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return ((hash ^ (hash >>> 16)) >>> 0) / 2 ** 32;
};

/** The version of a page that a person sees, by a hash of both: no state, and the same answer everywhere. Undefined where all weights are zero. */
export const assignArm = (page: string, person: string, arms: readonly Arm[]): string | undefined => {
  const whole = arms.reduce((sum, { weight }) => sum + weight, 0);
  let left = unitHash(`${page}:${person}`) * whole;
  return arms.find(({ weight }) => (left -= weight) < 0)?.variant;
};

/** The key, or address, of the page that a version belongs to: `sales~b` is a version of `sales`. */
export const withoutVariant = (name: string): string => name.replace(/~[b-d]$/, "");

/** The name of a version by its key: `sales~b` is B, `sales` itself A. */
export const variantName = ({ key }: { key: string }): string => (/~([b-d])$/.exec(key)?.[1] ?? "a").toUpperCase();

/** The names of versions; the page itself is A. */
export const variantNames = ["A", "B", "C", "D"] as const;
