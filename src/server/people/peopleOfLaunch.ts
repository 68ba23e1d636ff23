import {
  conditionSentence,
  readSentence,
  type ConditionIds,
  type ConditionNames,
  type ConditionScope,
  type SentenceRefusal,
} from "../../core/conditions";
import { distinctNames, peopleAtStage } from "../../core/figures";
import { Partner, Product } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { peopleList, type ListedPerson } from "../../store/people/peopleList";
import { countPeopleWho } from "../../store/people/peopleWho";
import type { LaunchContext } from "../launch";
import { Refusal } from "../platform";

/** How products, steps and partners are called in the sentences of conditions, each by a name of its own. */
export const conditionNames = async (em: EntityManager, { savedPath }: LaunchContext): Promise<{ names: ConditionNames; ids: ConditionIds }> => {
  const products = distinctNames(await em.find(Product, {}, { orderBy: { name: 1, id: 1 } }));
  const partners = distinctNames(await em.find(Partner, {}, { orderBy: { id: 1 } }), ({ code }) => code);
  const soldAt = (id: string | null) => products.find((product) => product.id === id)?.name ?? "a step without a product";
  const steps = distinctNames(savedPath.path.steps.map(({ id, productId }) => ({ id, name: soldAt(productId) })));
  const both = (things: { id: string; name: string }[]) => ({
    name: new Map(things.map(({ id, name }) => [id, name])),
    id: new Map(things.map(({ id, name }) => [name, id])),
  });
  const [product, step, partner] = [both(products), both(steps), both(partners)];
  // What is there no more keeps its id for a name.
  const named =
    ({ name }: typeof product) =>
    (id: string) =>
      name.get(id) ?? id;
  const known =
    ({ id }: typeof product) =>
    (name: string) =>
      id.get(name);
  return {
    names: { product: named(product), step: named(step), partner: named(partner) },
    ids: { product: known(product), step: known(step), partner: known(partner) },
  };
};

export interface PeopleOfLaunch {
  /** The condition as it was typed, or in its own words. */
  sentence: string;
  refusal?: SentenceRefusal;
  people: ListedPerson[];
  /** The last of these people, where there are more. */
  next?: string;
}

interface Asked {
  sentence: string;
  now: Date;
  past?: boolean;
}

const most = 100;

const conditionOf = (sentence: string, ids: ConditionIds): ReturnType<typeof readSentence> =>
  sentence.trim() === "" ? { condition: peopleAtStage("visited") } : readSentence(sentence, ids);

const scopeOf = ({ launch }: LaunchContext, { now, past }: Asked): ConditionScope & { launchId: string } => ({ launchId: launch.id, now, past });

/** The people of a launch who meet the condition that a sentence asks for (everybody, without one), as things are or as they were at an instant of the past. */
export const peopleOfLaunch = async (em: EntityManager, context: LaunchContext, asked: Asked & { after?: string }): Promise<PeopleOfLaunch> => {
  const { names, ids } = await conditionNames(em, context);
  const read = conditionOf(asked.sentence, ids);
  if ("refusal" in read) return { sentence: asked.sentence, refusal: read.refusal, people: [] };
  const people = await peopleList(em, read.condition, scopeOf(context, asked), { after: asked.after, most: most + 1 });
  const shown = people.slice(0, most);
  return { sentence: conditionSentence(read.condition, names), people: shown, ...(people.length > most ? { next: shown.at(-1)!.id } : {}) };
};

/** How many they are in all. Of a million people this takes longer than a page of their list, so that it is asked for by itself. */
export const countPeopleOfLaunch = async (em: EntityManager, context: LaunchContext, asked: Asked): Promise<number> => {
  const read = conditionOf(asked.sentence, (await conditionNames(em, context)).ids);
  if ("refusal" in read) throw new Refusal({ code: "condition" });
  return countPeopleWho(em, read.condition, scopeOf(context, asked));
};
