import { useState } from "react";
import { deleteRule, listRules, type PersonRule } from "../../../contract/peopleRules";
import type { PersonField } from "../../../core/people";
import { counted } from "../../../core/words";
import { call } from "../../kit/data/call";
import { useReady } from "../../kit/data/useReady";
import { say } from "../../kit/notices";
import type { FilterChoices } from "../filter/RowDetails";
import { actionWords } from "./actionWords";
import { FieldsSection } from "./FieldsSection";
import { NewRule } from "./NewRule";
import styles from "./rules.module.css";

interface Props {
  rules: PersonRule[];
  fields: PersonField[];
  choices: FilterChoices;
  /** The condition that a new rule begins with: that of the list that one came from. */
  who: string;
  mayEdit: boolean;
}

/** What is done by itself with people who meet a condition, and the vendor's own fields of every record. */
export const RulesDesk = ({ rules: first, fields, choices, who, mayEdit }: Props) => {
  const ready = useReady();
  const [rules, setRules] = useState(first);
  const again = async () => {
    const answer = await call(listRules, {});
    if (answer.ok) setRules(answer.value.rules);
  };
  const end = async (rule: PersonRule) => {
    const answer = await call(deleteRule, { params: { id: rule.id } });
    if (!answer.ok) return say(answer.message, true);
    await again();
    say(`The rule is ended. What it did with ${counted(rule.people, "person", "people")} stays.`);
  };
  return (
    <div inert={!ready}>
      <section aria-labelledby="rules" className={styles.section}>
        <h2 id="rules">Rules</h2>
        <p className="muted">
          What is done with everybody who meets a condition, once each: within seconds of what they did, and within the hour where a condition comes
          true by time alone.
        </p>
        {rules.length === 0 && <p>No rule yet. The first could tag everybody who buys.</p>}
        <ol className={styles.rules}>
          {rules.map((rule) => (
            <li key={rule.id}>
              <p>
                Whoever <b>{rule.who}</b> {actionWords(rule.action, choices.things.launch)}
              </p>
              <p className="muted">
                {counted(rule.people, "person", "people")} so far.{" "}
                <a href={`/desk/people?${new URLSearchParams({ who: rule.who })}`}>Show who meets it now</a>
              </p>
              {mayEdit && (
                <button type="button" onClick={() => void end(rule)}>
                  End this rule
                </button>
              )}
            </li>
          ))}
        </ol>
        {mayEdit && <NewRule who={who} choices={choices} fields={fields} onMade={again} />}
      </section>
      <FieldsSection first={fields} mayEdit={mayEdit} />
    </div>
  );
};
