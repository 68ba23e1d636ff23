import { conditionSentence, namedBy, readSentence, sentenceFault, type Condition } from "../../core/conditions";
import type { EntityManager } from "../../store/orm";
import { wrongField } from "../platform";
import { conditionThings } from "./conditionThings";

/** The condition that a sentence over all launches asks for; undefined for none. What is not understood is refused at its field, with its place. */
export const conditionOf = async (em: EntityManager, sentence: string): Promise<Condition | undefined> => {
  if (sentence.trim() === "") return undefined;
  const read = readSentence(sentence, namedBy(await conditionThings(em)).ids);
  if ("condition" in read) return read.condition;
  throw wrongField("nothing_changed", "who", sentenceFault(sentence, read.refusal));
};

/** Says conditions as sentences, by what things are called now. */
export const conditionWriter = async (em: EntityManager): Promise<(condition: Condition) => string> => {
  const { names } = namedBy(await conditionThings(em));
  return (condition) => conditionSentence(condition, names);
};

/** The same where something must be asked for. */
export const someConditionOf = async (em: EntityManager, sentence: string): Promise<Condition> => {
  const condition = await conditionOf(em, sentence);
  if (!condition) throw wrongField("nothing_changed", "who", { code: "words_missing" });
  return condition;
};
