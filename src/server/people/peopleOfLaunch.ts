import { conditionSentence, readSentence, type Condition, type ConditionIds, type ConditionNames, type SentenceRefusal } from "../../core/conditions";
import { distinctNames, peopleAtStage } from "../../core/figures";
import { Partner, Product } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { peopleList, type ListedPerson } from "../../store/people/peopleList";
import { countPeopleWho } from "../../store/people/peopleWho";
import type { LaunchContext } from "../launch";

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
  all: number;
  people: ListedPerson[];
  /** The last of these people, where there are more. */
  next?: string;
}

const most = 100;

/** The people of a launch who meet the condition that a sentence asks for (everybody, without one), as things are or as they were at an instant of the past. */
export const peopleOfLaunch = async (
  em: EntityManager,
  context: LaunchContext,
  asked: { sentence: string; after?: string; now: Date; pastAt?: Date },
): Promise<PeopleOfLaunch> => {
  const { names, ids } = await conditionNames(em, context);
  const read: ReturnType<typeof readSentence> =
    asked.sentence.trim() === "" ? { condition: peopleAtStage("visited") } : readSentence(asked.sentence, ids);
  if ("refusal" in read) return { sentence: asked.sentence, refusal: read.refusal, all: 0, people: [] };
  const condition: Condition = read.condition;
  const scope = { launchId: context.launch.id, now: asked.pastAt ?? asked.now, past: asked.pastAt !== undefined };
  const [all, people] = await Promise.all([
    countPeopleWho(em, condition, scope),
    peopleList(em, condition, scope, { ...(asked.after === undefined ? {} : { after: asked.after }), most: most + 1 }),
  ]);
  const shown = people.slice(0, most);
  return { sentence: conditionSentence(condition, names), all, people: shown, ...(people.length > most ? { next: shown.at(-1)!.id } : {}) };
};
