import type { PersonField } from "../../core/people";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";

interface Props {
  /** The vendor's own fields; what else is filled was asked by a form or stood in a file, and can be changed as text. */
  fields: readonly PersonField[];
  values: Readonly<Record<string, string>>;
  /** What is wrong, by `answers.` and the name of a field. */
  wrong: Readonly<Record<string, string | undefined>>;
  onChange: (name: string, value: string) => void;
}

/** The choices of a field, with what is not one of them any more where it is what the field holds. */
const choicesOf = ({ kind, choices }: PersonField, value: string) => {
  const all = kind === "tick" ? ["yes"] : choices;
  return [{ value: "", label: "empty" }, ...[...new Set([...all, ...(value === "" ? [] : [value])])].map((one) => ({ value: one, label: one }))];
};

/** The fields of the vendor's own on one record. */
export const OwnFields = ({ fields, values, wrong, onChange }: Props) => {
  const declared = new Set(fields.map(({ name }) => name));
  const others: PersonField[] = Object.keys(values)
    .filter((name) => !declared.has(name))
    .map((name) => ({ name, kind: "text", choices: [] }));
  return [...fields, ...others].map((field) => {
    const { name, kind } = field;
    const value = values[name] ?? "";
    const shared = { label: name, value, wrong: wrong[`answers.${name}`] };
    return kind === "text" ? (
      <Field key={name} {...shared} onChange={(event) => onChange(name, event.currentTarget.value)} />
    ) : (
      <Select key={name} {...shared} options={choicesOf(field, value)} onChange={(picked) => onChange(name, picked)} />
    );
  });
};
