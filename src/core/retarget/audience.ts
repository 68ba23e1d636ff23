import type { Stage } from "../events";

/** An audience by stages: everyone who reached `did` and not `didNot`. */
export interface Audience {
  key: string;
  name: string;
  did: Stage;
  didNot: Stage;
}

export const audiences: Audience[] = [
  { key: "looked", name: "Saw the sales page, began no checkout", did: "saw_sales", didNot: "began_checkout" },
  { key: "unfinished", name: "Began a checkout, did not buy", did: "began_checkout", didNot: "paid" },
];

/** Common practice, no source: advert networks do not deliver to fewer people than this in a country. */
export const smallestAudience = 20;

/** True for a person whose first times at the stages put them into the audience. */
export const belongs = (audience: Pick<Audience, "did" | "didNot">, first: Partial<Record<Stage, Date | null>>): boolean =>
  first[audience.did] != null && first[audience.didNot] == null;
