import { useState } from "react";
import { correctPerson } from "../../contract/people";
import type { PersonCorrection, PersonField, PersonRecord } from "../../core/people";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { Combobox } from "../kit/fields/Combobox";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import { say } from "../kit/notices";
import { OwnFields } from "./OwnFields";

/** What a record is corrected with: names by their codes as the server has them, since a browser may name some otherwise; and the vendor's own fields. */
export interface CorrectionChoices {
  countries: Record<string, string>;
  languages: Record<string, string>;
  fields: PersonField[];
}
interface Props {
  person: PersonRecord;
  contact: NonNullable<PersonRecord["contact"]>;
  choices: CorrectionChoices;
  onSaved: () => Promise<void>;
}

/** Corrects what somebody typed wrong, or what was guessed. A new address has to be proved anew, so it is not changed in passing but by a press. */
export const CorrectPerson = ({ person, contact, choices, onSaved }: Props) => {
  const { email, firstName, lastName, phone, country, zone, language, answers } = contact;
  const seen: PersonCorrection = { email, firstName, lastName, phone, country, zone, language, answers };
  const [typed, setTyped] = useState(seen);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const save = async () => {
    const answer = await call(correctPerson, { params: { id: person.id }, request: { ...typed, seen } });
    if (!answer.ok) {
      setWrong(answer.fields);
      return Object.keys(answer.fields).length === 0 && say(answer.message, true);
    }
    await onSaved();
    say(
      typed.email.trim().toLowerCase() === email ? "Corrected." : "Corrected. The new address is used from now on; nobody has shown to read it yet.",
    );
  };
  const field = (name: "email" | "firstName" | "lastName" | "phone", label: string) => (
    <Field label={label} value={typed[name]} wrong={wrong[name]} onChange={(event) => setTyped({ ...typed, [name]: event.currentTarget.value })} />
  );
  /** What stands for what nobody said: what is guessed, and from where. */
  const unsaid = (guessed: string | null, names: Record<string, string>) =>
    guessed ? `not named; ${names[guessed] ?? guessed} by their browser` : "not known";
  const choice = (name: "country" | "language", label: string, guessed: string | null, names: Record<string, string>) => (
    <Select
      label={label}
      value={typed[name]}
      options={[{ value: "", label: unsaid(guessed, names) }, ...Object.entries(names).map(([value, of]) => ({ value, label: of }))]}
      onChange={(picked) => setTyped({ ...typed, [name]: picked })}
    />
  );
  return (
    <form
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      {field("email", "Email")}
      {field("firstName", "First name")}
      {field("lastName", "Last name")}
      {field("phone", "Phone")}
      {choice("country", "Country", person.guessedCountry, choices.countries)}
      <Combobox
        label="Time zone"
        value={typed.zone}
        options={Intl.supportedValuesOf("timeZone")}
        hint={typed.zone === "" ? unsaid(person.guessedZone, {}) : undefined}
        wrong={wrong["zone"]}
        onChange={(picked) => setTyped({ ...typed, zone: picked })}
      />
      {choice("language", "Language", person.guessedLanguage, choices.languages)}
      <OwnFields
        fields={choices.fields}
        values={typed.answers}
        wrong={wrong}
        onChange={(name, value) => setTyped({ ...typed, answers: { ...typed.answers, [name]: value } })}
      />
      <p style={{ marginTop: 10 }}>
        <Button type="submit">Save the correction</Button>
      </p>
    </form>
  );
};
