import { randomUUID } from "node:crypto";
import { isDeepStrictEqual } from "node:util";
import { importedInto, underWay, type ImportChoices, type ImportCounts, type KnownPerson } from "../../../core/people";
import {
  addImported,
  addTags,
  changeImported,
  countPart,
  knownContacts,
  lockImport,
  noteImported,
  type ImportedContact,
  type KnownContact,
} from "../../../store/people/imports";
import { grantToMany } from "../../../store/delivery/grantToMany";
import { PeopleImport } from "../../../store/tables";
import type { EntityManager } from "../../../store/orm";
import type { App } from "../../platform";
import { judgedParts, type JudgedPart } from "./judgeLines";

/** So many of the refused lines are shown; the file of them has all. */
const mostShown = 200;

type Good = JudgedPart["good"];
type Done = Pick<ImportCounts, "added" | "changed" | "unchanged" | "granted">;

/** A known person's record as it is, and as a line leaves it. */
const outcomeOf = ({ id, personId, email: _, tags, ...was }: KnownContact, { row }: Good[number], { known }: ImportChoices) => {
  const is: KnownPerson = importedInto(was, row, known);
  const newTags = row.tags.filter((tag) => !tags.includes(tag));
  return { id, personId, is, newTags, changed: newTags.length > 0 || !isDeepStrictEqual(was, is), consents: !was.consentAt && is.consentAt };
};

/** What a part would do, without doing it. */
const look = async (em: EntityManager, good: Good, choices: ImportChoices): Promise<Done> => {
  const byEmail = new Map(good.map((one) => [one.row.email, one]));
  const outcomes = (await knownContacts(em, [...byEmail.keys()], false)).map((known) => outcomeOf(known, byEmail.get(known.email)!, choices));
  const changed = outcomes.filter((one) => one.changed).length;
  return { added: good.length - outcomes.length, changed, unchanged: outcomes.length - changed, granted: choices.access ? good.length : 0 };
};

/** Brings a part's people in. */
const bringIn = async (tx: EntityManager, importId: string, good: Good, choices: ImportChoices, now: Date): Promise<Done> => {
  const words = choices.consent?.words ?? null;
  const byEmail = new Map(good.map((one) => [one.row.email, one]));
  let known = await knownContacts(tx, [...byEmail.keys()], true);
  const there = new Set(known.map(({ email }) => email));
  const fresh = good.filter(({ row }) => !there.has(row.email)).map(({ row, line }) => ({ ...row, line, id: randomUUID(), personId: randomUUID() }));
  const added = await addImported(tx, fresh, words, now);
  // Who opted in between the look and the change is known by now.
  const late = fresh.filter(({ email }) => !added.has(email)).map(({ email }) => email);
  if (late.length > 0) known = [...known, ...(await knownContacts(tx, late, true))];
  const outcomes = known.map((one) => ({ line: byEmail.get(one.email)!.line, ...outcomeOf(one, byEmail.get(one.email)!, choices) }));
  const changed = outcomes.filter((one) => one.changed);
  await changeImported(
    tx,
    changed.map(({ id, is }) => ({ id, ...is })),
    words,
  );
  const mine = fresh.filter(({ email }) => added.has(email));
  const tags = [...mine.map(({ personId, tags: given }) => ({ personId, newTags: given })), ...changed];
  await addTags(
    tx,
    tags.flatMap(({ personId, newTags }) => newTags.map((tag) => ({ personId, tag }))),
    now,
  );
  const consented = (at: Date | null | false) => (at && words ? { words, at } : null);
  const noted: ImportedContact[] = [
    ...mine.map(({ id, line, consentAt }) => ({ contactId: id, line, consent: consented(consentAt) })),
    ...changed.map(({ id, line, consents }) => ({ contactId: id, line, consent: consented(consents) })),
  ];
  await noteImported(tx, importId, noted, now);
  const everybody = [...mine, ...outcomes].map(({ id }) => id);
  const granted = choices.access ? await grantToMany(tx, importId, everybody, choices.access, now) : 0;
  return { added: mine.length, changed: changed.length, unchanged: outcomes.length - changed.length, granted };
};

/**
 * Goes through a file that is to be checked or brought in, part by part, each in one transaction that counts it: after a crash it goes on with the
 * part that was not counted. Ends where somebody cancels it.
 */
export const importPeople = async (app: App, id: string): Promise<void> => {
  const em = app.fork();
  const asked = await em.findOne(PeopleImport, { id });
  if (!asked?.choices || !asked.askedAt || !underWay.includes(asked.state)) return;
  const { state, choices, nextPart } = asked;
  for await (const part of judgedParts(app, em, id, choices, asked.askedAt)) {
    if (part.n < nextPart) continue;
    const goesOn = await em.fork().transactional(async (tx) => {
      const now = await lockImport(tx, id);
      if (now?.state !== state || now.nextPart !== part.n) return false;
      const done = state === "checking" ? await look(tx, part.good, choices) : await bringIn(tx, id, part.good, choices, app.clock.now());
      const noConsent = part.good.filter(({ row }) => row.consentAt === null).length;
      const counts = { ...done, refused: part.refused.length, noConsent };
      await countPart(
        tx,
        id,
        counts,
        part.refused.slice(0, mostShown).map(({ line, faults }) => ({ line, faults })),
        mostShown,
      );
      return true;
    });
    if (!goesOn) return;
  }
  const finished = state === "checking" ? { state: "checked" as const } : { state: "done" as const, finishedAt: app.clock.now() };
  await em.nativeUpdate(PeopleImport, { id, state }, finished);
};
