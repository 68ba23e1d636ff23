import { conditionSentence, type Condition } from "../../core/conditions";

// Things stand by their ids: the address stays what it is when they are called otherwise.
const plain = { launch: String, product: String, step: String, partner: String, email: String };

/** The address of the people behind a figure of a launch. */
export const peopleHref = (slug: string, condition: Condition): string =>
  `/desk/${slug}/people?${new URLSearchParams({ who: conditionSentence(condition, plain) })}`;

/** The address of those among all people who meet a condition. */
export const everybodyHref = (condition: Condition): string => `/desk/people?${new URLSearchParams({ who: conditionSentence(condition, plain) })}`;
