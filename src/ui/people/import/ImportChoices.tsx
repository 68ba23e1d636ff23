import type { ImportRecord } from "../../../contract/peopleImport";
import type { ImportField, KnownRule } from "../../../core/people";
import { DateField } from "../../kit/fields/DateTimeField";
import { ChoiceCards } from "../../kit/fields/ChoiceCards";
import { Field } from "../../kit/fields/Field";
import { optionsOf, Select } from "../../kit/fields/Select";
import kit from "../../kit/kit.module.css";
import styles from "./import.module.css";

type Choices = ImportRecord["choices"];
interface Props {
  record: ImportRecord;
  products: readonly { id: string; name: string }[];
  choices: Choices;
  /** What is wrong, by the path of the field. */
  wrong: Record<string, string>;
  onChange: (choices: Choices) => void;
}

const fields = optionsOf<ImportField>({
  skip: "left out",
  email: "email address",
  firstName: "first name",
  lastName: "last name",
  phone: "phone",
  country: "country",
  tags: "tags",
  consentAt: "when they agreed to emails",
  answer: "answer to a question",
});
const rules = [
  { value: "fill", title: "Fill what is empty", says: "what is known stays as it is" },
  { value: "replace", title: "Replace", says: "what the file says counts; its empty cells do not" },
  { value: "keep", title: "Keep", says: "they get the tags alone" },
] as const satisfies readonly { value: KnownRule; title: string; says: string }[];

/** Says how a file is read: what each column holds, what happens with those who are known, and what they agreed to. */
export const ImportChoices = ({ record: { titles, sample }, products, choices, wrong, onChange }: Props) => {
  const { columns, consent, access } = choices;
  const change = (part: Partial<Choices>) => onChange({ ...choices, ...part });
  const changeColumn = (at: number, part: Partial<Choices["columns"][number]>) =>
    change({ columns: columns.map((column, n) => (n === at ? { ...column, ...part } : column)) });
  const dated = columns.some(({ is }) => is === "consentAt");
  return (
    <div className={styles.choices}>
      <section aria-label="Columns">
        <h2>Columns</h2>
        {wrong["columns"] && (
          <p className={kit.wrong} role="alert">
            {wrong["columns"]}
          </p>
        )}
        <div className={kit.wide} tabIndex={0} role="region" aria-label="Columns of the file">
          <table className={kit.table}>
            <thead>
              <tr>
                <th scope="col">In the file</th>
                <th scope="col">First lines</th>
                <th scope="col">It holds</th>
              </tr>
            </thead>
            <tbody>
              {titles.map((title, at) => (
                <tr key={at}>
                  <th scope="row" className={styles.head}>
                    {title || `column ${at + 1}`}
                  </th>
                  <td className={styles.sample}>
                    {sample
                      .map((cells) => cells[at] ?? "")
                      .filter(Boolean)
                      .join(" · ")}
                  </td>
                  <td>
                    <Select
                      label={`What ${title || `column ${at + 1}`} holds`}
                      hideLabel
                      value={columns[at]?.is ?? "skip"}
                      options={fields}
                      onChange={(is) => changeColumn(at, { is, question: is === "answer" ? title : "" })}
                    />
                    {columns[at]?.is === "answer" && (
                      <Field
                        label="Question"
                        value={columns[at].question}
                        onChange={(event) => changeColumn(at, { question: event.currentTarget.value })}
                      />
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </section>
      <div className={styles.side}>
        <ChoiceCards
          legend="Consent to emails"
          value={consent ? "given" : "none"}
          choices={[
            { value: "none", title: "Not stated", says: "they are kept, and get no emails" },
            { value: "given", title: "They agreed", says: "you can show when, and to which words" },
          ]}
          onChange={(is) => change({ consent: is === "given" ? { words: "", at: null } : null })}
        />
        {consent && (
          <>
            <Field
              label="What they agreed to"
              rows={3}
              hint="The words that they read and ticked, kept with each of them as proof."
              value={consent.words}
              {...(wrong["consent.words"] ? { wrong: wrong["consent.words"] } : {})}
              onChange={(event) => change({ consent: { ...consent, words: event.currentTarget.value } })}
            />
            {!dated && (
              <>
                <DateField
                  label="When they agreed"
                  value={consent.at?.toISOString().slice(0, 10) ?? ""}
                  onChange={(day) => change({ consent: { ...consent, at: day ? new Date(`${day}T00:00:00Z`) : null } })}
                />
                {wrong["consent.at"] && (
                  <p className={kit.wrong} role="alert">
                    {wrong["consent.at"]}
                  </p>
                )}
              </>
            )}
            <p className="muted">Who has unsubscribed here stays unsubscribed, whatever the file says.</p>
          </>
        )}
        <ChoiceCards legend="People who are known" value={choices.known} choices={rules} onChange={(known) => change({ known })} />
        <Field
          label="Tag for everybody in the file"
          hint="Empty for none."
          value={choices.tag}
          {...(wrong["tag"] ? { wrong: wrong["tag"] } : {})}
          onChange={(event) => change({ tag: event.currentTarget.value })}
        />
        {products.length > 0 && (
          <Select
            label="Access for everybody in the file"
            hint="To a product that they bought elsewhere: it stands in their library, without an order."
            value={access?.product ?? ""}
            wrong={wrong["access.product"]}
            options={[{ value: "", label: "none" }, ...products.map(({ id, name }) => ({ value: id, label: name }))]}
            onChange={(product) => change({ access: product === "" ? null : { product, reason: access?.reason ?? "" } })}
          />
        )}
        {access && (
          <Field
            label="Why they get it"
            value={access.reason}
            {...(wrong["access.reason"] ? { wrong: wrong["access.reason"] } : {})}
            onChange={(event) => change({ access: { ...access, reason: event.currentTarget.value } })}
          />
        )}
      </div>
    </div>
  );
};
