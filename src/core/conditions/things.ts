import type { ConditionIds } from "./readSentence";
import type { ConditionNames } from "./sentence";

/** What conditions name: each thing by a name of its own, which no other of its kind has. */
export type ConditionThings = Readonly<Record<keyof ConditionNames, readonly { id: string; name: string }[]>>;

/** Names by id and ids by name. What is there no more keeps its id for a name. */
export const namedBy = (things: ConditionThings): { names: ConditionNames; ids: ConditionIds } => {
  const both = (of: keyof ConditionThings) => {
    const name = new Map(things[of].map((thing) => [thing.id, thing.name]));
    const id = new Map(things[of].map((thing) => [thing.name, thing.id]));
    // An id stands for itself: addresses of figures hold it, and keep leading to the same thing when that is called otherwise.
    return { name: (known: string) => name.get(known) ?? known, id: (typed: string) => id.get(typed) ?? (name.has(typed) ? typed : undefined) };
  };
  const [launch, product, step, partner, email] = [both("launch"), both("product"), both("step"), both("partner"), both("email")];
  return {
    names: { launch: launch.name, product: product.name, step: step.name, partner: partner.name, email: email.name },
    ids: { launch: launch.id, product: product.id, step: step.id, partner: partner.id, email: email.id },
  };
};
