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

// Shapes of VAT identification numbers by country (Directive 2006/112/EC art. 215; the shapes are common knowledge, from memory).
const vatShapes: Record<string, RegExp | undefined> = {
  AT: /^U\d{8}$/,
  BE: /^[01]\d{9}$/,
  BG: /^\d{9,10}$/,
  CY: /^\d{8}[A-Z]$/,
  CZ: /^\d{8,10}$/,
  DE: /^\d{9}$/,
  DK: /^\d{8}$/,
  EE: /^\d{9}$/,
  ES: /^[A-Z0-9]\d{7}[A-Z0-9]$/,
  FI: /^\d{8}$/,
  FR: /^[A-HJ-NP-Z0-9]{2}\d{9}$/,
  GR: /^\d{9}$/,
  HR: /^\d{11}$/,
  HU: /^\d{8}$/,
  IE: /^\d[A-Z0-9+*]\d{5}[A-Z]{1,2}$/,
  IT: /^\d{11}$/,
  LT: /^(\d{9}|\d{12})$/,
  LU: /^\d{8}$/,
  LV: /^\d{11}$/,
  MT: /^\d{8}$/,
  NL: /^[A-Z0-9+*]{10}\d{2}$/,
  PL: /^\d{10}$/,
  PT: /^\d{9}$/,
  RO: /^\d{2,10}$/,
  SE: /^\d{12}$/,
  SI: /^\d{8}$/,
  SK: /^\d{10}$/,
};
/** The prefix of a country's VAT numbers, where it is not the country's code. */
const prefixes: Record<string, string | undefined> = { GR: "EL" };

/** A VAT number as it is kept (`PT123456789`), or undefined where it has not the shape of that country's numbers. */
export const vatNumber = (typed: string, country: string): string | undefined => {
  const plain = typed.toUpperCase().replace(/[\s.-]/g, "");
  const prefix = prefixes[country] ?? country;
  const rest = plain.startsWith(prefix) ? plain.slice(prefix.length) : plain;
  return vatShapes[country]?.test(rest) ? `${prefix}${rest}` : undefined;
};

/** Whether the buyer accounts for the tax: a business with a number of their own country, which is another member state (Directive 2006/112/EC, art. 44 and 196). */
export const isReverseCharge = (vat: string | undefined, buyer: string, vendor: string): boolean =>
  vat !== undefined && vatNumber(vat, buyer) === vat && buyer !== vendor && euCountries.has(buyer) && euCountries.has(vendor);
