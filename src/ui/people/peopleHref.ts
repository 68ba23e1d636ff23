import { conditionSentence, type Condition } from "../../core/conditions";

// A figure's own condition names no product, step or partner.
const plain = { launch: String, product: String, step: String, partner: String };

/** The address of the people behind a figure of a launch. */
export const peopleHref = (slug: string, condition: Condition): string =>
  `/desk/${slug}/people?${new URLSearchParams({ who: conditionSentence(condition, plain) })}`;
