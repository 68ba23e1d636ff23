import { peopleAsked, type PeopleAsked } from "../../contract/people";
import { peopleSorts } from "../../core/people";
import { peopleCount, peoplePage } from "../../store/people/peoplePage";
import type { EntityManager } from "../../store/orm";

/** What an address narrows the list of people to, and how it sorts them. What makes no sense in it is passed over. */
export const peopleAskedBy = ({ searchParams }: URL): PeopleAsked =>
  peopleAsked.parse({
    find: (searchParams.get("find") ?? "").slice(0, 80),
    sort: peopleAsked.shape.sort.catch("-since").parse(searchParams.get("sort") ?? undefined),
  });

/** A part of the list of everybody with an address, as of an instant, and how many there are in all. */
export const listPeople = async (em: EntityManager, { find, sort, after }: PeopleAsked & { after?: string | undefined }, asOf: Date) => {
  const by = peopleSorts.find((one) => one === sort.replace(/^-/, "")) ?? "since";
  const part = await peoplePage(em, { find, by, down: sort.startsWith("-"), most: 100, after }, asOf);
  return { ...part, ...(await peopleCount(em, find, asOf)) };
};
