import type { Condition } from "../../core/conditions";
import { formatAmount } from "../../core/money";
import type { PeopleAsked } from "../../contract/people";
import { peoplePage } from "../../store/people/find/peoplePage";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { conditionOf } from "./conditionOf";
import { peopleSortOf } from "./listPeople";
import { csvResponse, mustBeAllowed } from "../platform";

const columns = ["name", "email", "country", "since", "may_be_written_to", "tags", "orders", "spent"];
const atOnce = 1_000;

async function* batches(
  em: EntityManager,
  asked: PeopleAsked,
  who: Condition | undefined,
  scope: { now: Date; past?: boolean },
): AsyncGenerator<Record<string, unknown>[]> {
  const sorting = { find: asked.find, who, ...peopleSortOf(asked) };
  for (let after: string | undefined; ;) {
    const { people, next } = await peoplePage(em, { ...sorting, most: atOnce, after }, scope);
    if (people.length > 0)
      yield people.map((one) => ({
        name: one.name,
        email: one.email,
        country: one.country,
        since: one.since.toISOString(),
        may_be_written_to: one.mayWrite ? "yes" : "no",
        tags: one.tags.join("; "),
        orders: one.orders,
        spent: one.spent.map(({ minor, currency }) => `${formatAmount(minor, currency)} ${currency}`).join(" + "),
      }));
    if (next === undefined) return;
    after = next;
  }
}

/** The people that a search and a condition find, as of an instant, as a CSV file. */
export const peopleFile = async (em: EntityManager, user: DeskUser, asked: PeopleAsked, scope: { now: Date; past?: boolean }): Promise<Response> => {
  mustBeAllowed(user, "person.export");
  return csvResponse("people.csv", columns, batches(em, asked, await conditionOf(em, asked.who), scope));
};
