import { fault } from "../words";
import iso from "i18n-iso-countries";
import { z } from "zod";

/** An address as it is compared and hashed: trimmed and lower-cased. */
export const normaliseEmail = (typed: string): string => typed.trim().toLowerCase();

export const email = z
  .string()
  .transform(normaliseEmail)
  .pipe(z.email(fault("not_an_email")).max(254));
// A link, or what a mail program makes one of: strangers write names into forms, and they come out in emails.
const likeLink = /:\/\/|www\.|@|[/\\<>\r\n]|[\p{L}\p{N}-]{3,}\.\p{L}{2,}/iu;
// Hosts of one or two letters; initials before a surname in capitals ("J.Smith") are none.
const likeShortLink = /[\p{L}\p{N}]\.\p{Ll}{2,}/u;

/** Whether a text is a name, as far as a program can tell: no link, no address, no lines. */
export const isName = (text: string): boolean => !likeLink.test(text) && !likeShortLink.test(text);

export const firstName = z.string().trim().min(1, fault("first_name_missing")).max(60).refine(isName, fault("not_a_name"));

const codes = Object.keys(iso.getAlpha2Codes());
const namesIn = new Map<string, Record<string, string>>();

/** All countries and territories of ISO 3166-1 (and Kosovo, by the code that the European Union uses), named in a language, in the order of their names. */
export const countryNames = (language = "en"): Record<string, string> => {
  let names = namesIn.get(language);
  if (!names) {
    const words = new Intl.DisplayNames(language, { type: "region" });
    const named = codes.map((code): [string, string] => [code, words.of(code) ?? code]);
    namesIn.set(language, (names = Object.fromEntries(named.sort(([, a], [, b]) => a.localeCompare(b, language)))));
  }
  return names;
};
/** The English name of a country, or its code where it is none. */
export const countryName = (code: string): string => countryNames()[code] ?? code;
export const isCountry = (code: string): boolean => Object.hasOwn(iso.getAlpha2Codes(), code);
export const country = z.string().refine(isCountry, fault("country_missing"));

// Every two letters that stand for a language (ISO 639-1) have a name of their own in the runtime's tables (CLDR).
const letters = [..."abcdefghijklmnopqrstuvwxyz"];
let named: Record<string, string> | undefined;
/** Languages of ISO 639-1 by their English names, in the order of these. */
export const languageNames = (): Record<string, string> => {
  if (named) return named;
  const words = new Intl.DisplayNames("en", { type: "language", fallback: "none" });
  const all = letters.flatMap((one) => letters.map((other) => one + other)).map((code): [string, string] => [code, words.of(code) ?? ""]);
  return (named = Object.fromEntries(all.filter(([, name]) => name !== "").sort(([, a], [, b]) => a.localeCompare(b, "en"))));
};
export const isLanguage = (code: string): boolean => Object.hasOwn(languageNames(), code);

/** A field that an opt-in form asks beside the address. */
interface AskedField {
  id: string;
  is: "firstName" | "lastName" | "phone" | "own";
  label: string;
  required: boolean;
  kind: "text" | "choice" | "tick";
  choices: string[];
}

/** What an opt-in form sends: the address, what else it asks, and the tick. */
export interface OptInRequest {
  email: string;
  firstName?: string;
  lastName?: string;
  phone?: string;
  /** Answers to the vendor's own questions, by their labels. */
  answers: Record<string, string>;
  /** A field that people never see: whoever fills it is a program. */
  website?: string;
}

/** What one field of a form may be answered with; an empty answer is none. */
const answerTo = (field: AskedField): z.ZodType<string> => {
  const missing = fault(field.is === "firstName" ? "first_name_missing" : "missing");
  const text = z
    .string()
    .trim()
    .max(254)
    .default("")
    .refine((answer) => answer !== "" || !field.required, missing);
  if (field.is === "firstName" || field.is === "lastName") return text.pipe(z.string().max(60)).refine(isName, fault("not_a_name"));
  if (field.is === "phone") return text.refine((answer) => answer === "" || /^\+?[\d ()./-]{6,24}$/.test(answer), fault("not_a_phone"));
  if (field.is === "own" && field.kind === "choice")
    return text.refine((answer) => answer === "" || field.choices.includes(answer), fault("not_of_the_list"));
  return text;
};

const nameOf = (field: AskedField): string => (field.is === "own" ? `own_${field.id}` : field.is);

/** Reads what an opt-in form with these fields sends; every objection stands at its field. */
export const optInRequest = (fields: AskedField[]): z.ZodType<OptInRequest> =>
  z
    .object({
      email,
      consent: z.literal("yes", fault("consent_missing")),
      website: z.string().optional(),
      ...Object.fromEntries(fields.map((field) => [nameOf(field), answerTo(field)])),
    })
    .transform((sent): OptInRequest => {
      const read: OptInRequest = { email: sent.email, answers: {}, website: sent.website };
      for (const field of fields) {
        const answer = (sent as Record<string, string | undefined>)[nameOf(field)];
        if (!answer) continue;
        if (field.is === "own") read.answers[field.label] = answer;
        else read[field.is] = answer;
      }
      return read;
    });
