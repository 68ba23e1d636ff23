import { useState } from "react";
import { correctPerson } from "../../contract/people";
import type { PersonCorrection, PersonRecord } from "../../core/people";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import { say } from "../kit/notices";

interface Props {
  id: string;
  contact: NonNullable<PersonRecord["contact"]>;
  /** The country that their browser's language tells, where they named none. */
  guessed: string | null;
  countries: Record<string, string>;
  onSaved: () => Promise<void>;
}

/** Corrects what somebody typed wrong, or what was guessed. A new address has to be proved anew, so it is not changed in passing but by a press. */
export const CorrectPerson = ({ id, contact, guessed, countries, onSaved }: Props) => {
  const { email, firstName, lastName, phone, country } = contact;
  const [typed, setTyped] = useState<PersonCorrection>({ email, firstName, lastName, phone, country });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const save = async () => {
    const answer = await call(correctPerson, { params: { id }, request: typed });
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
  const unknown = guessed ? `not named; ${countries[guessed] ?? guessed} by their browser` : "not known";
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
      <Select
        label="Country"
        value={typed.country}
        options={[{ value: "", label: unknown }, ...Object.entries(countries).map(([value, label]) => ({ value, label }))]}
        onChange={(picked) => setTyped({ ...typed, country: picked })}
      />
      <p style={{ marginTop: 10 }}>
        <Button type="submit">Save the correction</Button>
      </p>
    </form>
  );
};
