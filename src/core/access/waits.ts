/** How many tries in a row are free before waits begin, and how long they may grow. */
export interface TryRule {
  free: number;
  mostSeconds: number;
}

/** Tries that lie longer apart do not count together. */
export const forgottenAfterSeconds = 3_600;

/**
 * Rules for wrong passwords: of one address at one account, of anyone at one account, and of one address at any account.
 * The second and third are wider: strangers must not lock out an owner, nor one guesser a whole office.
 */
export const signInRules = {
  here: { free: 5, mostSeconds: 900 },
  account: { free: 20, mostSeconds: 60 },
  address: { free: 100, mostSeconds: 300 },
} as const satisfies Record<string, TryRule>;

/** Seconds to wait after so many tries in a row: none while they are free, then two, doubled with each try. */
export const waitSeconds = (tries: number, { free, mostSeconds }: TryRule): number =>
  tries < free ? 0 : Math.min(mostSeconds, 2 * 2 ** Math.min(30, tries - free));
