import { countryNames } from "../../core/people";
import { answeredQuestions, knownTags } from "../../store/people/knownWords";
import type { EntityManager } from "../../store/orm";
import { conditionThings } from "./conditionThings";

/** What a vendor chooses from while a condition is put together. */
export const filterChoices = async (em: EntityManager) => ({
  things: await conditionThings(em),
  countries: countryNames(),
  tags: await knownTags(em),
  questions: await answeredQuestions(em),
});
