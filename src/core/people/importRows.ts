import { z } from "zod";
import { fault, reason, faultsOf, type Fault } from "../words";
import { countryNames, isCountry } from "./person";
import { personCorrection, tag } from "./record";

/** What a column of a file holds. */
export const importFields = ["skip", "email", "firstName", "lastName", "phone", "country", "tags", "consentAt", "answer"] as const;
export type ImportField = (typeof importFields)[number];
const column = z.object({
  is: z.enum(importFields),
  /** The question that the column answers. */
  question: z.string().trim().max(200).default(""),
});

/** What happens with somebody who is known: nothing of theirs changes, what is empty is filled, or what the file says replaces it. */
export const knownRules = ["keep", "fill", "replace"] as const;
export type KnownRule = (typeof knownRules)[number];

/** How a file of people is read. */
export const importChoices = z
  .object({
    columns: z.array(column).max(200),
    known: z.enum(knownRules),
    /** What they agreed to; null where the file is of people who did not. */
    consent: z
      .object({
        words: z.string().trim().min(10, fault("consent_words_missing")).max(500),
        /** When they agreed, where no column says so. */
        at: z.coerce.date().nullable(),
      })
      .nullable(),
    /** A tag for everybody in the file; empty for none. */
    tag: z.union([z.literal(""), tag]),
    /** A product that everybody in the file gets access to, and why: they bought it elsewhere. */
    access: z
      .object({ product: z.uuid(fault("access_product_missing")), reason })
      .nullable()
      .default(null),
  })
  .superRefine(({ columns, consent }, context) => {
    const held = (field: ImportField) => columns.filter(({ is }) => is === field).length;
    const wrong = (path: string[], message: string) => context.addIssue({ code: "custom", path, message });
    if (held("email") === 0) wrong(["columns"], fault("email_column_missing"));
    for (const field of ["email", "firstName", "lastName", "phone", "country", "consentAt"] as const)
      if (held(field) > 1) wrong(["columns"], fault("column_twice"));
    if (columns.some(({ is, question }) => is === "answer" && question === "")) wrong(["columns"], fault("question_missing"));
    if (consent && consent.at === null && held("consentAt") === 0) wrong(["consent", "at"], fault("consent_at_missing"));
  });
export type ImportChoices = z.infer<typeof importChoices>;

/** A person as one line of a file has them; what it does not say is empty. */
export interface ImportRow {
  email: string;
  firstName: string;
  lastName: string;
  phone: string;
  country: string;
  tags: string[];
  answers: Record<string, string>;
  /** When they agreed to emails; null for those who did not. */
  consentAt: Date | null;
}
/** What is wrong with a line: the column (from 0; none for the line as a whole), and why. */
export interface ImportFault {
  column?: number;
  fault: Fault;
}

const person = personCorrection.omit({ country: true, zone: true, language: true, answers: true }).extend({ tags: z.array(tag).max(30) });

let byName: Map<string, string> | undefined;
/** A country by its two letters or its English name; undefined for what is neither. */
const countryOf = (typed: string): string | undefined => {
  if (typed === "") return "";
  const code = typed.toUpperCase();
  if (code.length === 2) return isCountry(code) ? code : undefined;
  byName ??= new Map(Object.entries(countryNames()).map(([known, name]) => [name.toLowerCase(), known]));
  return byName.get(typed.toLowerCase());
};

// ISO 8601: a day, or a day and a time with its distance from UTC. Other ways of writing a date are read differently in different places.
const isoInstant = /^\d{4}-\d{2}-\d{2}(?:[T ]\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?:Z|[+-]\d{2}:?\d{2}))?$/;
const instantOf = (typed: string): Date | undefined => {
  if (!isoInstant.test(typed)) return undefined;
  const at = new Date(typed.length === 10 ? `${typed}T00:00:00Z` : typed.replace(" ", "T"));
  // `Date` carries the 31st of February over into March.
  return Number.isNaN(at.getTime()) || (typed.length === 10 && !at.toISOString().startsWith(typed)) ? undefined : at;
};

/** What a cell says. Files that were written for spreadsheet programs keep formulas from being run by an apostrophe before them. */
const text = (cell = ""): string => cell.trim().replace(/^'(?=[=+\-@])/, "");

/** Reads one line of a file as a person, or says all that is wrong with it. `now` because nobody agrees in the future. */
export const readImportRow = (cells: readonly string[], choices: ImportChoices, now: Date): { row: ImportRow } | { faults: ImportFault[] } => {
  const { columns, consent } = choices;
  if (cells.length > columns.length && cells.slice(columns.length).some((cell) => cell.trim() !== ""))
    return { faults: [{ fault: { code: "cells_more", cells: cells.length, columns: columns.length } }] };
  const faults: ImportFault[] = [];
  const at = (field: ImportField): number => columns.findIndex(({ is }) => is === field);
  const cell = (field: ImportField): string => text(cells[at(field)]);
  const tags = columns.flatMap(({ is }, index) => (is === "tags" ? text(cells[index]).split(/[,;]/) : [])).map((one) => one.trim());
  const read = person.safeParse({
    email: cell("email"),
    firstName: cell("firstName"),
    lastName: cell("lastName"),
    phone: cell("phone"),
    tags: [...new Set([...tags, choices.tag])].filter((one) => one !== ""),
  });
  if (!read.success)
    for (const [path, found] of Object.entries(faultsOf(read.error))) faults.push({ column: at(path.split(".")[0] as ImportField), fault: found });
  const country = countryOf(cell("country"));
  if (country === undefined) faults.push({ column: at("country"), fault: { code: "country_unknown", typed: cell("country").slice(0, 40) } });
  let consentAt = consent?.at ?? null;
  if (consent && at("consentAt") >= 0) {
    const typed = cell("consentAt");
    const given = typed === "" ? null : instantOf(typed);
    if (given === undefined) faults.push({ column: at("consentAt"), fault: { code: "instant_unread" } });
    consentAt = given ?? null;
  }
  if (consentAt && consentAt > now) faults.push({ column: Math.max(0, at("consentAt")), fault: { code: "in_the_future" } });
  if (!read.success || country === undefined || faults.length > 0) return { faults };
  const answers = columns.flatMap(({ is, question }, index): [string, string][] => {
    const answer = text(cells[index]).slice(0, 2_000);
    return is === "answer" && answer !== "" ? [[question, answer]] : [];
  });
  return { row: { ...read.data, country, answers: Object.fromEntries(answers), consentAt } };
};

/** What a known person's record holds of what a file can say. */
export type KnownPerson = Pick<ImportRow, "firstName" | "lastName" | "phone" | "country" | "answers"> & {
  consentAt: Date | null;
  unsubscribedAt: Date | null;
};

/**
 * What a known person's record holds after a line of a file. Nobody who has agreed, or has unsubscribed, is agreed for anew: only they
 * themselves can do that.
 */
export const importedInto = (known: KnownPerson, row: ImportRow, rule: KnownRule): KnownPerson => {
  const next = (name: "firstName" | "lastName" | "phone" | "country"): string => {
    if (rule === "keep" || row[name] === "") return known[name];
    return rule === "replace" || known[name] === "" ? row[name] : known[name];
  };
  const answers = rule === "keep" ? known.answers : rule === "fill" ? { ...row.answers, ...known.answers } : { ...known.answers, ...row.answers };
  return {
    firstName: next("firstName"),
    lastName: next("lastName"),
    phone: next("phone"),
    country: next("country"),
    answers,
    consentAt: known.consentAt ?? (known.unsubscribedAt ? null : row.consentAt),
    unsubscribedAt: known.unsubscribedAt,
  };
};

// What the heads of columns are called in files of the trade (common practice, no source).
const heads: readonly [RegExp, ImportField][] = [
  [/^(e-?mail|email[ _-]?address|mail)$/i, "email"],
  [/^(first[ _-]?name|given[ _-]?name|vorname|prénom|nombre)$/i, "firstName"],
  [/^(last[ _-]?name|surname|family[ _-]?name|nachname|apellidos?)$/i, "lastName"],
  [/^(phone([ _-]?number)?|mobile|telephone|tel)$/i, "phone"],
  [/^(country([ _-]?code)?|land|pays|país)$/i, "country"],
  [/^(tags?|labels?)$/i, "tags"],
  [/^(consent([ _-]?at)?|opt[ _-]?in[ _-]?(date|time|at)|subscribed[ _-]?(at|on)|confirmed[ _-]?(at|on))$/i, "consentAt"],
];

/** What the columns of a file seem to hold, by their heads; each of ours once. */
export const guessColumns = (titles: readonly string[]): ImportChoices["columns"] => {
  const taken = new Set<ImportField>();
  return titles.map((title) => {
    const is = heads.find(([head, field]) => head.test(title.trim()) && !taken.has(field))?.[1] ?? "skip";
    if (is !== "skip") taken.add(is);
    return { is, question: "" };
  });
};

/** How far an import has come. */
export const importStates = ["read", "checking", "checked", "running", "done", "cancelled"] as const;
export type ImportState = (typeof importStates)[number];
/** What came of the lines of a file; `noConsent` of those that were good. */
export const importCounts = z.object({
  added: z.number(),
  changed: z.number(),
  unchanged: z.number(),
  refused: z.number(),
  noConsent: z.number(),
  /** Who gets access to the product. */
  granted: z.number(),
});
export type ImportCounts = z.infer<typeof importCounts>;
/** A line that was refused, by its number in the file (from 1, the heads are the first), and why. */
export interface RefusedLine {
  line: number;
  faults: ImportFault[];
}
/** The states in which a worker goes through the file. */
export const underWay: readonly ImportState[] = ["checking", "running"];
