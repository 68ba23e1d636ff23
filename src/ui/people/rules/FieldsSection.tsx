import { useState } from "react";
import { addField, deleteField, listFields } from "../../../contract/peopleRules";
import type { PersonField } from "../../../core/people";
import { Button } from "../../kit/Button";
import { call } from "../../kit/data/call";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { say } from "../../kit/notices";
import styles from "./rules.module.css";

const kinds = [
  { value: "text", label: "any text" },
  { value: "choice", label: "one of some choices" },
  { value: "tick", label: "a tick" },
] as const satisfies readonly { value: PersonField["kind"]; label: string }[];
const kindWords = Object.fromEntries(kinds.map(({ value, label }) => [value, label]));

const empty = { name: "", kind: "text" as PersonField["kind"], choices: "" };

/** The fields of the vendor's own that every record has. */
export const FieldsSection = ({ first, mayEdit }: { first: PersonField[]; mayEdit: boolean }) => {
  const [fields, setFields] = useState(first);
  const [typed, setTyped] = useState(empty);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const again = async () => {
    const answer = await call(listFields, {});
    if (answer.ok) setFields(answer.value.fields);
  };
  const add = async () => {
    const choices = typed.choices
      .split("\n")
      .map((line) => line.trim())
      .filter((line) => line !== "");
    const answer = await call(addField, { request: { name: typed.name, kind: typed.kind, choices } });
    if (!answer.ok) {
      setWrong(answer.fields);
      return Object.keys(answer.fields).length === 0 && say(answer.message, true);
    }
    setWrong({});
    setTyped(empty);
    await again();
    say(`Every record has the field “${typed.name.trim()}” now.`);
  };
  const remove = async ({ name }: PersonField) => {
    const answer = await call(deleteField, { request: { name } });
    if (!answer.ok) return say(answer.message, true);
    await again();
    say(`“${name}” is no field any more. What people have in it stays with them.`);
  };
  return (
    <section aria-labelledby="fields" className={styles.section}>
      <h2 id="fields">Your own fields</h2>
      <p className="muted">
        Every record has them, and filters ask for them. A form’s question and a column of a file of the same name fill them; so do rules.
      </p>
      {fields.length > 0 && (
        <ul className={styles.fields}>
          {fields.map((field) => (
            <li key={field.name}>
              <b>{field.name}</b> <span className="muted">{field.kind === "choice" ? field.choices.join(", ") : kindWords[field.kind]}</span>
              {mayEdit && (
                <button type="button" aria-label={`Remove the field ${field.name}`} onClick={() => void remove(field)}>
                  Remove
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
      {mayEdit && (
        <form
          noValidate
          className={styles.made}
          onSubmit={(event) => {
            event.preventDefault();
            void add();
          }}
        >
          <h3>A new field</h3>
          <div className={styles.action}>
            <Field
              label="Field name"
              value={typed.name}
              wrong={wrong["name"]}
              onChange={(event) => setTyped({ ...typed, name: event.currentTarget.value })}
            />
            <Select label="Holds" value={typed.kind} options={kinds} onChange={(kind) => setTyped({ ...typed, kind })} />
          </div>
          {typed.kind === "choice" && (
            <Field
              label="Choices, one a line"
              rows={4}
              value={typed.choices}
              wrong={wrong["choices"] ?? wrong["choices.0"]}
              onChange={(event) => setTyped({ ...typed, choices: event.currentTarget.value })}
            />
          )}
          <Button type="submit">Add this field</Button>
        </form>
      )}
    </section>
  );
};
