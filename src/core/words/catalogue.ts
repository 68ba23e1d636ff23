import { usualLocale, type Locale } from "../money";
import { emails } from "./en/emails";
import { faults } from "./en/faults";
import { publicPages } from "./en/publicPages";
import { refusals } from "./en/refusals";

/** A sentence of a catalogue: fixed, or made from what it is about, with numbers as the locale writes them. */
type Sentence<Detail> = string | ((detail: Detail, locale: Locale) => string);

/** Codes of the sentences that are fixed. */
type PlainOf<Catalogue> = { [Code in keyof Catalogue]: Catalogue[Code] extends string ? Code : never }[keyof Catalogue];
/** What the sentences of a catalogue are made from, told apart by `code`. */
type DataOf<Catalogue> =
  | { code: PlainOf<Catalogue> }
  | {
      [Code in keyof Catalogue]: Catalogue[Code] extends (detail: infer Detail, locale: Locale) => string ? { code: Code } & Detail : never;
    }[keyof Catalogue];

/** Why something was not done. Data alone: its sentence stands in the catalogue of a language, its status with the server. */
export type RefusalData = DataOf<typeof refusals>;
export type RefusalCode = RefusalData["code"];

/** What is wrong with one field. */
export type Fault = DataOf<typeof faults>;
export type FaultCode = Fault["code"];
/** What is wrong, by the path of the field. */
export type Faults = Record<string, Fault>;

/** Faults that need nothing to be said of them but their code. */
export type PlainFaultCode = PlainOf<typeof faults>;

/** A catalogue without the sentences of its language: any string will do. */
type Wide<Catalogue> = Catalogue extends string
  ? string
  : Catalogue extends (...of: infer Of) => string
    ? (...of: Of) => string
    : { readonly [Key in keyof Catalogue]: Wide<Catalogue[Key]> };

/** All catalogues of a language. English is the one there is; another has the same codes, made from the same data. */
const english = { refusals, faults, publicPages, emails };
type Catalogues = typeof english;
/** The fixed words of public pages and emails. */
export type PublicWords = Wide<Catalogues["publicPages"]>;
export type EmailWording = Wide<Catalogues["emails"]>;
// By the language of a locale: `de-CH` writes its numbers its own way, and reads English until there is a German catalogue.
const languages: Readonly<Record<string, Catalogues>> = { en: english };
const cataloguesFor = (locale: Locale): Catalogues => languages[locale.slice(0, 2)] ?? english;

const said = <Data extends { code: string }>(catalogue: Record<string, unknown>, data: Data, locale: Locale): string => {
  const sentence = catalogue[data.code] as Sentence<Data>;
  return typeof sentence === "string" ? sentence : sentence(data, locale);
};

/** What is said of a refusal to whoever reads in a locale. */
export const refusalSentence = (refusal: RefusalData, locale: Locale = usualLocale): string => said(cataloguesFor(locale).refusals, refusal, locale);

/** What is said at a field. */
export const faultSentence = (fault: Fault, locale: Locale = usualLocale): string => said(cataloguesFor(locale).faults, fault, locale);

/** What is said at each field. */
export const faultSentences = (faults: Readonly<Faults>, locale: Locale = usualLocale): Record<string, string> =>
  Object.fromEntries(Object.entries(faults).map(([field, fault]) => [field, faultSentence(fault, locale)]));

/** Whether a code is one of the catalogue's own. */
export const isPlainFault = (code: string): code is PlainFaultCode => typeof (faults as Record<string, unknown>)[code] === "string";

/** The fixed words of public pages for whoever reads in a locale. */
export const publicWords = (locale: Locale = usualLocale): PublicWords => cataloguesFor(locale).publicPages;

/** The fixed words of emails. */
export const emailWords = (locale: Locale = usualLocale): EmailWording => cataloguesFor(locale).emails;

/** What the tax on a sale is called where the buyer is: `VAT` in Portugal. Where they are is not always known. */
export const taxName = (country: string | undefined, locale: Locale = usualLocale): string => {
  const { names, usual, unknown } = cataloguesFor(locale).publicPages.tax;
  return country ? (names[country] ?? usual) : unknown;
};
