import { countryNames } from "../../core/people";
import { answeredQuestions, knownTags } from "../../store/people/find/knownWords";
import type { EntityManager } from "../../store/orm";
import { conditionThings } from "./conditionThings";

/** What a vendor chooses from while a condition is put together. */
export const filterChoices = async (em: EntityManager) => ({ things: await conditionThings(em), countries: countryNames() });

/** Every tag that somebody has, and every question that somebody answered: looked for among all people, once a row asks for one. */
export const knownWords = async (em: EntityManager) => ({ tags: await knownTags(em), questions: await answeredQuestions(em) });
