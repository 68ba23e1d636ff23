import { z } from "zod";
import { erasureFacts, mergeFacts, peopleSorts, personCorrection, personRecord, personRow, seenPerson, tag } from "../core/people";
import { fault } from "../core/words";
import { get, getFile, post } from "./endpoint";

const sorts = peopleSorts.flatMap((by) => [by, `-${by}`] as const);
/** The longest sentence that is read. */
export const mostOfSentence = 4_000;
const sentence = z.string().trim().max(mostOfSentence);
/**
 * Everybody with an address: found by part of a name or an address and by a condition over all launches, as its sentence; sorted by a column,
 * downward with a minus.
 */
export const peopleAsked = z.object({
  find: z.string().max(80).default(""),
  who: sentence.default(""),
  sort: z.enum(sorts).default("-since"),
});
export type PeopleAsked = z.output<typeof peopleAsked>;
export const listPeople = get("people", {
  request: peopleAsked.extend({ after: z.string().max(400).optional() }),
  answer: z.object({
    people: z.array(personRow),
    all: z.number(),
    /** How many of them may be written to. */
    mayWrite: z.number(),
    /** Asks for what comes behind these; absent after the last. */
    next: z.string().optional(),
  }),
});
/** All that is known of one person. */
export const readPerson = get("people/[id]", { answer: personRecord });
/** The record of one person, as JSON. */
export const exportPerson = getFile("people/[id]/export", { permission: "person.export" });
/** Corrects a person's record; refused where it is not any more what the correction started from. */
export const correctPerson = post("people/[id]/correct", {
  permission: "person.edit",
  request: personCorrection.extend({ seen: seenPerson }),
  refusals: ["changed_meanwhile"],
});
/** What merging a person's record with another's would change. */
export const readMerge = get("people/[id]/merge", {
  permission: "person.edit",
  request: z.object({ with: z.uuid() }),
  answer: mergeFacts,
  refusals: ["same_person"],
});
/** Makes two records of one person one, the elder's; answers whose it is from then on. */
export const mergePeople = post("people/[id]/merge", {
  permission: "person.edit",
  request: z.object({ with: z.uuid() }),
  answer: z.object({ id: z.string() }),
  refusals: ["same_person"],
});
/** What erasing a person would touch. */
export const readErasure = get("people/[id]/erasure", { permission: "person.erase", answer: erasureFacts });
/** Erases a person from everywhere but the books. */
export const erasePerson = post("people/[id]/erase", { permission: "person.erase", refusals: ["erasure_blocked"] });
/** Stops the emails of one launch to a person, or lets them go again where the desk or a rule had stopped them. */
export const optOutOfLaunch = post("people/[id]/launches/[slug]", {
  permission: "person.edit",
  request: z.object({ out: z.boolean() }),
  refusals: ["opted_out_themself"],
});
/** Stops all emails to a person. */
export const stopEmailsTo = post("people/[id]/stop", { permission: "person.edit" });
/** Lets emails go to an address again from which some came back. */
export const resumeEmailsTo = post("people/[id]/resume", { permission: "person.edit" });
/** Sets or removes a tag on people; of how many it changed. */
export const tagPeople = post("people/tag", {
  permission: "person.edit",
  request: z.object({ people: z.array(z.uuid()).min(1).max(5_000), tag, set: z.boolean() }),
  answer: z.object({ n: z.number() }),
});

/** Sets or removes a tag on everybody who is found; of how many it changed. */
export const tagAllPeople = post("people/tag-all", {
  permission: "person.edit",
  request: peopleAsked.pick({ find: true, who: true }).extend({ tag, set: z.boolean() }),
  answer: z.object({ n: z.number() }),
});

/** Every tag that somebody has, and every question of the vendor's own that somebody answered. */
export const knownWords = get("people/words", { answer: z.object({ tags: z.array(z.string()), questions: z.array(z.string()) }) });

/** A condition that people are found by again, as its sentence. */
const savedFilter = z.object({ id: z.string(), name: z.string(), who: z.string() });
export type SavedFilter = z.infer<typeof savedFilter>;
/** How many people each saved filter finds, by its id. */
export const countFilters = get("people/filters/count", { answer: z.object({ people: z.record(z.string(), z.number()) }) });
const filterName = z.string().trim().min(1, fault("words_missing")).max(60);
export const listFilters = get("people/filters", { answer: z.object({ filters: z.array(savedFilter) }) });
export const saveFilter = post("people/filters", {
  permission: "person.edit",
  request: z.object({ name: filterName, who: sentence.min(1, fault("words_missing")) }),
  answer: z.object({ id: z.string() }),
});
/** Renames a saved filter, or has it ask for something else. */
export const changeFilter = post("people/filters/[id]", {
  permission: "person.edit",
  request: z.object({ name: filterName.optional(), who: sentence.min(1, fault("words_missing")).optional() }),
});
export const deleteFilter = post("people/filters/[id]/delete", { permission: "person.edit" });

/** People of a launch by the beginning of their name or address. */
export const findPeople = get("[slug]/people", {
  request: z.object({ find: z.string().trim().min(2).max(80) }),
  answer: z.object({ people: z.array(z.object({ id: z.string(), name: z.string(), email: z.string() })) }),
});
/** How many people of a launch meet the condition that a sentence asks for. */
export const countPeople = get("[slug]/people/count", {
  refusals: ["condition"],
  request: z.object({ who: z.string().max(mostOfSentence) }),
  answer: z.object({ people: z.number() }),
});
/** What the clock of a launch knows of a person. */
export const personSeen = get("[slug]/people/[id]", {
  answer: z.object({
    person: z
      .object({
        name: z.string(),
        email: z.string(),
        /** Their zone, where it is known. */
        zone: z.string().nullable(),
        /** From when the steps of each sequence that they are in are counted for them. */
        moments: z.record(z.string(), z.coerce.date()),
        starts: z.array(z.coerce.date()).readonly().optional(),
        stop: z.object({ at: z.coerce.date(), handedTo: z.string().optional() }).optional(),
        checkoutBegunAt: z.coerce.date().optional(),
        orderedAt: z.coerce.date().optional(),
        subscribedAt: z.coerce.date().optional(),
      })
      .nullable(),
  }),
});
