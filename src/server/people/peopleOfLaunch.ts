import { conditionSentence, namedBy, readSentence, type ConditionIds, type ConditionScope, type SentenceRefusal } from "../../core/conditions";
import { peopleAtStage } from "../../core/figures";
import type { EntityManager } from "../../store/orm";
import { peopleList, type ListedPerson } from "../../store/people/find/peopleList";
import { countPeopleWho } from "../../store/people/find/peopleWho";
import type { LaunchContext } from "../launch";
import { Refusal } from "../platform";
import { conditionThings } from "./conditionThings";

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
  const { names, ids } = namedBy(await conditionThings(em, context.launch.id));
  const read = conditionOf(asked.sentence, ids);
  if ("refusal" in read) return { sentence: asked.sentence, refusal: read.refusal, people: [] };
  const people = await peopleList(em, read.condition, scopeOf(context, asked), { after: asked.after, most: most + 1 });
  const shown = people.slice(0, most);
  return { sentence: conditionSentence(read.condition, names), people: shown, ...(people.length > most ? { next: shown.at(-1)!.id } : {}) };
};

/** How many they are in all. Of a million people this takes longer than a page of their list, so that it is asked for by itself. */
export const countPeopleOfLaunch = async (em: EntityManager, context: LaunchContext, asked: Asked): Promise<number> => {
  const read = conditionOf(asked.sentence, namedBy(await conditionThings(em, context.launch.id)).ids);
  if ("refusal" in read) throw new Refusal({ code: "condition" });
  return countPeopleWho(em, read.condition, scopeOf(context, asked));
};
