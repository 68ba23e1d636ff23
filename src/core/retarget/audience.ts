import type { Condition } from "../conditions";

/** An audience: everyone of a launch who meets its condition. */
export interface Audience {
  key: string;
  name: string;
  condition: Condition;
}

/** How many people of an audience are in each country, and how many of them have an address that may be used. */
export interface AudienceSize {
  key: string;
  countries: { country: string; people: number; addresses: number }[];
}

export const audiences: Audience[] = [
  { key: "looked", name: "Saw the sales page, began no checkout", condition: { all: [{ did: "saw_sales" }, { none: [{ did: "began_checkout" }] }] } },
  { key: "unfinished", name: "Began a checkout, did not buy", condition: { all: [{ did: "began_checkout" }, { none: [{ did: "paid" }] }] } },
];

/** Common practice, no source: advert networks do not deliver to fewer people than this in a country. */
export const smallestAudience = 20;
