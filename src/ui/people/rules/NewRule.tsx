import { useState } from "react";
import { listPeople } from "../../../contract/people";
import { addRule } from "../../../contract/peopleRules";
import type { PersonField, RuleAction } from "../../../core/people";
import { counted } from "../../../core/words";
import { Button } from "../../kit/Button";
import { call } from "../../kit/data/call";
import { useRead } from "../../kit/data/useRead";
import { Combobox } from "../../kit/fields/Combobox";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { say } from "../../kit/notices";
import { PeopleFilter } from "../filter/PeopleFilter";
import type { FilterChoices } from "../filter/RowDetails";
import styles from "./rules.module.css";

interface Props {
  who: string;
  choices: FilterChoices;
  fields: readonly PersonField[];
  onMade: () => Promise<void>;
}

const doings = [
  { value: "tag", label: "gets a tag" },
  { value: "untag", label: "loses a tag" },
  { value: "fill", label: "gets a field filled" },
  { value: "leave", label: "gets no more emails of a launch" },
] as const satisfies readonly { value: RuleAction["does"]; label: string }[];

/** Puts a rule together: whom it is about, in the filter's own words, what is done, and whether with those who meet it already as well. */
export const NewRule = ({ who: first, choices, fields, onMade }: Props) => {
  const [who, setWho] = useState(first);
  const [does, setDoes] = useState<RuleAction["does"]>("tag");
  const [typed, setTyped] = useState({ tag: "", field: fields[0]?.name ?? "", value: "", launch: choices.things.launch[0]?.id ?? "" });
  const [everybody, setEverybody] = useState(true);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  // Drawn anew after each rule, so that the next one begins empty.
  const [made, setMade] = useState(0);
  const found = useRead(listPeople, { request: { find: "", who, sort: "-since" } });
  const put = (part: Partial<typeof typed>) => setTyped({ ...typed, ...part });
  const action: RuleAction =
    does === "leave" ? { does, launch: typed.launch } : does === "fill" ? { does, field: typed.field, value: typed.value } : { does, tag: typed.tag };
  const n = who === "" ? undefined : found.value?.all;
  const make = async () => {
    const answer = await call(addRule, { request: { who, action, everybody } });
    if (!answer.ok) {
      setWrong(answer.fields);
      return Object.keys(answer.fields).length === 0 && say(answer.message, true);
    }
    setWrong({});
    setWho("");
    setTyped({ ...typed, tag: "", value: "" });
    setMade(made + 1);
    await onMade();
    say(`The rule is made. It dealt with ${counted(answer.value.people, "person", "people")} at once.`);
  };
  return (
    <form
      className={styles.made}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void make();
      }}
    >
      <h3>A new rule</h3>
      <PeopleFilter key={made} who={who} choices={choices} begin="Say whom it is about" onChange={setWho} />
      {wrong["who"] && (
        <p role="alert" className={styles.wrong}>
          {wrong["who"]}
        </p>
      )}
      <div className={styles.action}>
        <Select label="What is done" value={does} options={doings} onChange={setDoes} />
        {(does === "tag" || does === "untag") && (
          <Field label="Tag" value={typed.tag} wrong={wrong["action.tag"]} onChange={(event) => put({ tag: event.currentTarget.value })} />
        )}
        {does === "fill" && (
          <>
            <Combobox
              label="Field"
              value={typed.field}
              options={fields.map(({ name }) => name)}
              wrong={wrong["action.field"]}
              onChange={(field) => put({ field })}
            />
            <Field
              label="Filled with"
              value={typed.value}
              wrong={wrong["action.value"]}
              onChange={(event) => put({ value: event.currentTarget.value })}
            />
          </>
        )}
        {does === "leave" && (
          <Select
            label="Launch"
            value={typed.launch}
            options={choices.things.launch.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(launch) => put({ launch })}
          />
        )}
      </div>
      <label className={styles.tick}>
        <input type="checkbox" checked={everybody} onChange={(event) => setEverybody(event.currentTarget.checked)} />
        <span>{n === undefined ? "Those who meet it already, too" : `The ${counted(n, "person who meets", "people who meet")} it already, too`}</span>
      </label>
      <Button main type="submit">
        {n === undefined || !everybody ? "Make this rule" : `Make this rule, for ${counted(n, "person", "people")} at once`}
      </Button>
    </form>
  );
};
