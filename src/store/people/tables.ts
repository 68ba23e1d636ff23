import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { Condition } from "../../core/conditions";
import type { ImportChoices, ImportCounts, ImportState, RefusedLine } from "../../core/people";
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
    /** When somebody proved to read this inbox. */
    provenAt: at().nullable(),
    /** Of a buyer who has set one; the others come to their library by a link in an email. */
    passwordHash: p.text().nullable(),
    /** When they were erased: from then on nothing here says who they were. */
    erasedAt: at().nullable(),
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
export type Person = InferEntity<typeof Person>;
export type PersonTag = InferEntity<typeof PersonTag>;
export type Visitor = InferEntity<typeof Visitor>;
