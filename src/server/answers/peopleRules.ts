import * as contract from "../../contract/peopleRules";
import { answering, type Answering } from "../platform";
import { addField, addRule, deleteField, deleteRule, listFields, listRules } from "../people";

export const peopleRulesAnswers: Answering[] = [
  answering(contract.listFields, async ({ em }) => ({ fields: await listFields(em) })),
  answering(contract.addField, ({ em, user, body, now }) => addField(em, user, body, now)),
  answering(contract.deleteField, ({ em, user, body }) => deleteField(em, user, body.name)),
  answering(contract.listRules, async ({ em }) => ({ rules: await listRules(em) })),
  answering(contract.addRule, ({ em, user, body, now }) => addRule(em, user, body, now)),
  answering(contract.deleteRule, ({ em, user, params }) => deleteRule(em, user, params.id)),
];
