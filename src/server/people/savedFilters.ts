import { randomUUID } from "node:crypto";
import type { SavedFilter } from "../../contract/people";
import { conditionSentence, namedBy } from "../../core/conditions";
import { peopleCount } from "../../store/people/find/peoplePage";
import { PeopleFilter, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, required, wrongField } from "../platform";
import { someConditionOf } from "./conditionOf";
import { conditionThings } from "./conditionThings";

const byName = (em: EntityManager): Promise<PeopleFilter[]> => em.find(PeopleFilter, {}, { orderBy: { name: 1 } });

/** The saved filters in the order of their names, each as its sentence. */
export const listFilters = async (em: EntityManager): Promise<SavedFilter[]> => {
  const { names } = namedBy(await conditionThings(em));
  return (await byName(em)).map(({ id, name, condition }) => ({ id, name, who: conditionSentence(condition, names) }));
};

/** How many people each saved filter finds. Of many people this takes longer than their list, so that it is asked for by itself. */
export const countFilters = async (em: EntityManager, scope: { now: Date; past?: boolean }): Promise<Record<string, number>> => {
  const counts: Record<string, number> = {};
  for (const { id, condition } of await byName(em)) counts[id] = (await peopleCount(em, { find: "", who: condition }, scope)).all;
  return counts;
};

const unlessTaken = async <T>(run: () => Promise<T>): Promise<T> => {
  try {
    return await run();
  } catch (error) {
    if (error instanceof Error && error.name === "UniqueConstraintViolationException")
      throw wrongField("nothing_saved", "name", { code: "filter_name_taken" });
    throw error;
  }
};

/** Saves a condition under a name. */
export const saveFilter = async (
  em: EntityManager,
  user: DeskUser,
  { name, who }: { name: string; who: string },
  now: Date,
): Promise<{ id: string }> => {
  mustBeAllowed(user, "person.edit");
  const condition = await someConditionOf(em, who);
  const filter = { id: randomUUID(), name, condition, createdAt: now };
  await unlessTaken(() => em.insert(PeopleFilter, filter));
  return { id: filter.id };
};

/** Renames a filter, or has it ask for something else. */
export const changeFilter = async (
  em: EntityManager,
  user: DeskUser,
  id: string,
  change: { name?: string | undefined; who?: string | undefined },
): Promise<void> => {
  mustBeAllowed(user, "person.edit");
  const filter = required(await em.findOne(PeopleFilter, { id }), "filter");
  if (change.name !== undefined) filter.name = change.name;
  if (change.who !== undefined) filter.condition = await someConditionOf(em, change.who);
  await unlessTaken(() => em.flush());
};

/** Forgets a filter; the people whom it finds stay as they are. */
export const deleteFilter = async (em: EntityManager, user: DeskUser, id: string): Promise<void> => {
  mustBeAllowed(user, "person.edit");
  await em.nativeDelete(PeopleFilter, { id });
};
