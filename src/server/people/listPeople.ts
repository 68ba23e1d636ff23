import { mostOfSentence, peopleAsked, type PeopleAsked } from "../../contract/people";
import { peopleSorts, type PeopleSort } from "../../core/people";
import { peopleCount, peoplePage } from "../../store/people/find/peoplePage";
import type { EntityManager } from "../../store/orm";
import { conditionOf } from "./conditionOf";

/** As things are, or as they were at an instant of the past. */
interface Scope {
  now: Date;
  past?: boolean;
}

/** What an address narrows the list of people to, and how it sorts them. What makes no sense in it is passed over. */
export const peopleAskedBy = ({ searchParams }: URL): PeopleAsked =>
  peopleAsked.parse({
    find: (searchParams.get("find") ?? "").slice(0, 80),
    who: (searchParams.get("who") ?? "").slice(0, mostOfSentence),
    sort: peopleAsked.shape.sort.catch("-since").parse(searchParams.get("sort") ?? undefined),
  });

/** How the store is asked to sort. */
export const peopleSortOf = ({ sort }: PeopleAsked): { by: PeopleSort; down: boolean } => ({
  by: peopleSorts.find((one) => one === sort.replace(/^-/, "")) ?? "since",
  down: sort.startsWith("-"),
});

/** A part of the list of everybody with an address who is asked for, as of an instant, and how many there are in all. */
export const listPeople = async (em: EntityManager, { after, ...asked }: PeopleAsked & { after?: string | undefined }, scope: Scope) => {
  const who = await conditionOf(em, asked.who);
  const { counts, ...part } = await peoplePage(em, { find: asked.find, who, ...peopleSortOf(asked), most: 100, after }, scope);
  return { ...part, ...(counts ?? (await peopleCount(em, { find: asked.find, who }, scope))) };
};
