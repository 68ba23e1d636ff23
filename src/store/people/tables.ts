import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { Condition } from "../../core/conditions";
import type { fieldKinds, ImportChoices, ImportCounts, ImportState, RefusedLine, RuleAction } from "../../core/people";
import { at } from "../columns";

export const Contact = defineEntity({
  name: "Contact",
  tableName: "contact",
  properties: {
    id: p.uuid().primary(),
    personId: p.uuid(),
    email: p.text(),
    firstName: p.text(),
    country: p.text().nullable(),
    consentText: p.text().nullable(),
    consentAt: at().nullable(),
    unsubscribedAt: at().nullable(),
    createdAt: at(),
    /** Somebody who tries a checkout out; apart from whoever has the same address. */
    test: p.boolean().default(false),
    lastName: p.text().default(""),
    phone: p.text().nullable(),
    /** Answers to the vendor's own questions, by their words. */
    answers: p
      .json()
      .$type<Record<string, string>>()
      .onCreate(() => ({})),
    /** Where they are and what they read, as they or the desk said it; and as the browser of a form did. */
    zone: p.text().nullable(),
    guessedZone: p.text().nullable(),
    language: p.text().nullable(),
    guessedLanguage: p.text().nullable(),
    /** When somebody proved to read this inbox. */
    provenAt: at().nullable(),
    /** Of a buyer who has set one; the others come to their library by a link in an email. */
    passwordHash: p.text().nullable(),
    /** When they were erased: from then on nothing here says who they were. */
    erasedAt: at().nullable(),
    /** Since when mail to many does not go there, because mail came back. */
    suppressedAt: at().nullable(),
    suppressedBecause: p.text().$type<"bounced" | "complained">().nullable(),
    /** Since when they want no more than one email a week. */
    fewerSince: at().nullable(),
    /** The contact that this one turned out to be; its address leads there. */
    mergedInto: p.uuid().nullable(),
  },
});
/** What an opt-in form was sent with; it counts once it is confirmed. */
export const OptIn = defineEntity({
  name: "OptIn",
  tableName: "opt_in",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    contactId: p.uuid(),
    page: p.text(),
    form: p.text(),
    visitorId: p.uuid(),
    country: p.text().nullable(),
    consentText: p.text(),
    askedAt: at(),
    confirmedAt: at().nullable(),
  },
});
/** Somebody, seen by one browser or several; merged into another where two turned out to be one. */
export const Person = defineEntity({
  name: "Person",
  tableName: "person",
  properties: {
    id: p.uuid().primary(),
    createdAt: at(),
    mergedInto: p.uuid().nullable(),
  },
});
export const PersonTag = defineEntity({
  name: "PersonTag",
  tableName: "person_tag",
  properties: {
    personId: p.uuid().primary(),
    tag: p.text().primary(),
    at: at(),
  },
});
/** What an outside tool told of a person, and when. */
export const PersonNotice = defineEntity({
  name: "PersonNotice",
  tableName: "person_notice",
  properties: {
    launchId: p.uuid().primary(),
    contactId: p.uuid().primary(),
    name: p.text().primary(),
    at: at().primary(),
  },
});
/** A condition that people are found by again. */
export const PeopleFilter = defineEntity({
  name: "PeopleFilter",
  tableName: "people_filter",
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    condition: p.json().$type<Condition>(),
    createdAt: at(),
  },
});
/** A field of the vendor's own that every record has. */
export const PersonField = defineEntity({
  name: "PersonField",
  tableName: "person_field",
  properties: {
    name: p.text().primary(),
    kind: p.text().$type<(typeof fieldKinds)[number]>(),
    choices: p.json().$type<string[]>(),
    createdAt: at(),
  },
});
/** What is done with whoever meets a condition, and how far was looked for them. */
export const PeopleRule = defineEntity({
  name: "PeopleRule",
  tableName: "people_rule",
  properties: {
    id: p.uuid().primary(),
    condition: p.json().$type<Condition>(),
    action: p.json().$type<RuleAction>(),
    createdAt: at(),
    lookedAt: at(),
    everybodyAt: at(),
  },
});
/** Whom a rule has dealt with: it never does so twice. */
export const PeopleRulePerson = defineEntity({
  name: "PeopleRulePerson",
  tableName: "people_rule_person",
  properties: {
    ruleId: p.uuid().primary(),
    personId: p.uuid().primary(),
    at: at(),
    applied: p.boolean(),
  },
});
/** Who gets no emails of one launch. */
export const LaunchOptOut = defineEntity({
  name: "LaunchOptOut",
  tableName: "launch_opt_out",
  properties: {
    contactId: p.uuid().primary(),
    launchId: p.uuid().primary(),
    at: at(),
    madeBy: p.text().$type<"rule" | "desk" | "reader">(),
  },
});
/** A file of people: how it is read, and how far it was worked through. */
export const PeopleImport = defineEntity({
  name: "PeopleImport",
  tableName: "people_import",
  properties: {
    id: p.uuid().primary(),
    fileName: p.text(),
    userId: p.uuid(),
    createdAt: at(),
    titles: p.json().$type<string[]>(),
    encoding: p.text(),
    lines: p.integer(),
    choices: p.json().$type<ImportChoices>().nullable(),
    state: p.text().$type<ImportState>(),
    nextPart: p.integer().default(0),
    counts: p
      .json()
      .$type<Partial<ImportCounts>>()
      .onCreate(() => ({})),
    /** The first lines that were refused. */
    refused: p
      .json()
      .$type<RefusedLine[]>()
      .onCreate(() => []),
    askedAt: at().nullable(),
    finishedAt: at().nullable(),
  },
});
/** Lines of a file of people. */
export const PeopleImportPart = defineEntity({
  name: "PeopleImportPart",
  tableName: "people_import_part",
  properties: {
    importId: p.uuid().primary(),
    n: p.integer().primary(),
    lines: p.json().$type<(readonly [line: number, cells: string[]])[]>(),
  },
});
/** Whose a line of a file was, and the consent that it stated. */
export const PeopleImportContact = defineEntity({
  name: "PeopleImportContact",
  tableName: "people_import_contact",
  properties: {
    importId: p.uuid().primary(),
    contactId: p.uuid().primary(),
    line: p.integer(),
    at: at(),
    consentWords: p.text().nullable(),
    consentAt: at().nullable(),
  },
});
/** What an order keeps of a buyer who was erased. */
export const ErasedBuyer = defineEntity({
  name: "ErasedBuyer",
  tableName: "erased_buyer",
  properties: {
    orderId: p.uuid().primary(),
    firstName: p.text(),
    lastName: p.text(),
    email: p.text(),
    at: at(),
  },
});
/** The keyed hash of an address that was erased. */
export const ErasedAddress = defineEntity({
  name: "ErasedAddress",
  tableName: "erased_address",
  properties: {
    hash: p.text().primary(),
    at: at(),
  },
});
/** A browser, by its cookie. */
export const Visitor = defineEntity({
  name: "Visitor",
  tableName: "visitor",
  properties: {
    id: p.uuid().primary(),
    personId: p.uuid(),
    firstSeenAt: at(),
    country: p.text().nullable(),
  },
});

export type Contact = InferEntity<typeof Contact>;
export type OptIn = InferEntity<typeof OptIn>;
export type PeopleFilter = InferEntity<typeof PeopleFilter>;
export type PeopleImport = InferEntity<typeof PeopleImport>;
export type PeopleRule = InferEntity<typeof PeopleRule>;
export type Person = InferEntity<typeof Person>;
export type PersonTag = InferEntity<typeof PersonTag>;
export type Visitor = InferEntity<typeof Visitor>;
