import { z } from "zod";
import { personField, ruleAction } from "../core/people";
import { fault } from "../core/words";
import { get, post } from "./endpoint";
import { mostOfSentence } from "./people";

/** The vendor's own fields of every record. */
export const listFields = get("people/fields", { answer: z.object({ fields: z.array(personField) }) });
export const addField = post("people/fields", { permission: "person.edit", request: personField });
/** Removes a field; what people have in it stays with them. */
export const deleteField = post("people/fields/delete", { permission: "person.edit", request: z.object({ name: z.string().max(200) }) });

/** What is done with whoever meets a condition, which stands as its sentence; and with how many people it was done so far. */
const personRule = z.object({ id: z.string(), who: z.string(), action: ruleAction, createdAt: z.coerce.date(), people: z.number() });
export type PersonRule = z.infer<typeof personRule>;
export const listRules = get("people/rules", { answer: z.object({ rules: z.array(personRule) }) });

const newRule = z.object({
  who: z.string().trim().min(1, fault("condition_missing")).max(mostOfSentence),
  action: ruleAction,
  /** Whether those who meet the condition by now are dealt with as well. */
  everybody: z.boolean(),
});
export type NewRule = z.infer<typeof newRule>;
/** Makes a rule; answers with how many people it dealt at once. */
export const addRule = post("people/rules", { permission: "person.edit", request: newRule, answer: z.object({ people: z.number() }) });
/** Ends a rule; what it did stays. */
export const deleteRule = post("people/rules/[id]/delete", { permission: "person.edit" });
