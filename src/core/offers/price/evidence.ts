import {
  austria,
  belgium,
  bulgaria,
  checkVAT,
  croatia,
  cyprus,
  czechRepublic,
  denmark,
  estonia,
  finland,
  france,
  germany,
  greece,
  hungary,
  ireland,
  italy,
  latvia,
  lithuania,
  luxembourg,
  malta,
  netherlands,
  poland,
  portugal,
  romania,
  slovakiaRepublic,
  slovenia,
  spain,
  sweden,
  type Country,
} from "jsvat";

/** What shows where a buyer is (Implementing Regulation (EU) 282/2011, art. 24f): each with the country it points to. */
export const evidenceKinds = ["billing", "card", "browser"] as const;
export interface Evidence {
  kind: (typeof evidenceKinds)[number];
  country: string;
}
export const evidenceWords: Record<Evidence["kind"], string> = {
  billing: "the country that the buyer gave",
  card: "the country of the bank that issued the card",
  browser: "the region of the browser's language",
};

/** Member states of the European Union (ISO 3166-1; Greece as GR), from memory. */
export const euCountries = new Set("AT BE BG HR CY CZ DK EE FI FR DE GR HU IE IT LV LT LU MT NL PL PT RO SK SI ES SE".split(" "));

/** Whether two pieces of evidence that do not contradict one another point to the country of an order (art. 24b (d), 24f). */
export const enoughEvidence = (evidence: readonly Evidence[], country: string): boolean =>
  new Set(evidence.filter((one) => one.country === country).map(({ kind }) => kind)).size >= 2;

// Shapes and check digits of VAT identification numbers, by ISO 3166-1.
const checks: Record<string, Country | undefined> = Object.fromEntries(
  [
    austria,
    belgium,
    bulgaria,
    croatia,
    cyprus,
    czechRepublic,
    denmark,
    estonia,
    finland,
    france,
    germany,
    greece,
    hungary,
    ireland,
    italy,
    latvia,
    lithuania,
    luxembourg,
    malta,
    netherlands,
    poland,
    portugal,
    romania,
    slovakiaRepublic,
    slovenia,
    spain,
    sweden,
  ].map((one): [string, Country] => [String(one.codes[0]), one]),
);
/** The prefix of a country's VAT numbers, where it is not the country's code. */
const prefixes: Record<string, string | undefined> = { GR: "EL" };

/**
 * A VAT number of a member state as it is kept (`PT123456789`), or undefined where it has not the shape or the check
 * digits of that country's numbers (Directive 2006/112/EC, art. 215). That somebody has it is not proved by this.
 */
export const vatNumber = (typed: string, country: string): string | undefined => {
  const plain = typed.toUpperCase().replace(/[\s.-]/g, "");
  const check = checks[country];
  const prefix = prefixes[country] ?? country;
  const whole = `${prefix}${plain.startsWith(prefix) ? plain.slice(prefix.length) : plain}`;
  return check && checkVAT(whole, [check]).isValid ? whole : undefined;
};

/** Whether the buyer accounts for the tax: a business with a number of their own country, which is another member state (Directive 2006/112/EC, art. 44 and 196). */
export const isReverseCharge = (vat: string | undefined, buyer: string, vendor: string): boolean =>
  vat !== undefined && vatNumber(vat, buyer) === vat && buyer !== vendor && euCountries.has(buyer) && euCountries.has(vendor);
