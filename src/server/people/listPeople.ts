import { peopleAsked, type PeopleAsked } from "../../contract/people";
import { peopleSorts, type PeopleSort } from "../../core/people";
import { peopleCount, peoplePage } from "../../store/people/peoplePage";
import type { EntityManager } from "../../store/orm";

/** What an address narrows the list of people to, and how it sorts them. What makes no sense in it is passed over. */
export const peopleAskedBy = ({ searchParams }: URL): PeopleAsked =>
  peopleAsked.parse({
    find: (searchParams.get("find") ?? "").slice(0, 80),
    sort: peopleAsked.shape.sort.catch("-since").parse(searchParams.get("sort") ?? undefined),
  });

/** How the store is asked to sort. */
export const peopleSortOf = ({ sort }: PeopleAsked): { by: PeopleSort; down: boolean } => ({
  by: peopleSorts.find((one) => one === sort.replace(/^-/, "")) ?? "since",
  down: sort.startsWith("-"),
});

/** A part of the list of everybody with an address, as of an instant, and how many there are in all. */
export const listPeople = async (em: EntityManager, { after, ...asked }: PeopleAsked & { after?: string | undefined }, asOf: Date) => {
  const part = await peoplePage(em, { find: asked.find, ...peopleSortOf(asked), most: 100, after }, asOf);
  return { ...part, ...(await peopleCount(em, asked.find, asOf)) };
};
