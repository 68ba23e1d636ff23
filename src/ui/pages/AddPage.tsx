import { addPage } from "../../contract/pages";
import { useState } from "react";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import { useReady } from "../kit/data/useReady";
import { say } from "../kit/notices";
import styles from "./editor/editor.module.css";
import { TemplateSelect, type OwnTemplate } from "./TemplateSelect";

interface Props {
  slug: string;
  templates: OwnTemplate[];
  /** Pages with a look of their own, which a new one can take over. */
  looks: { key: string; title: string }[];
}

/** Adds a page of the vendor's own; a slash in its address makes a folder, which gates and countdowns can cover whole. */
export const AddPage = ({ slug, templates, looks }: Props) => {
  const ready = useReady();
  const [asked, setAsked] = useState({ address: "", headline: "", template: "optin-side", lookFrom: "" });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const set = (field: keyof typeof asked) => (event: { currentTarget: { value: string } }) =>
    setAsked({ ...asked, [field]: event.currentTarget.value });
  const add = async () => {
    const answer = await call(addPage, { params: { slug }, request: asked });
    if (answer.ok) return location.assign(`/desk/${slug}/pages/${asked.address.trim().toLowerCase()}`);
    setWrong(answer.fields);
    if (Object.keys(answer.fields).length === 0) say(answer.message, true);
  };
  return (
    <form
      className={styles.newPage}
      inert={!ready}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void add();
      }}
    >
      <h2>Add a page</h2>
      <TemplateSelect
        label="Template"
        value={asked.template}
        own={templates}
        wrong={wrong["template"]}
        onChange={(template) => setAsked({ ...asked, template })}
      />
      <Field
        label={`Address below /${slug}/`}
        placeholder="bonus/pattern-one"
        value={asked.address}
        wrong={wrong["address"]}
        hint="A slash makes a folder; gates and countdowns can hold for a whole folder."
        onChange={set("address")}
      />
      <Field label="Headline" hint="Leave empty to use the template's." value={asked.headline} wrong={wrong["headline"]} onChange={set("headline")} />
      {looks.length > 0 && (
        <Select
          label="Looks like"
          value={asked.lookFrom}
          options={[{ value: "", label: "the launch" }, ...looks.map(({ key, title }) => ({ value: key, label: `the page “${title}”` }))]}
          onChange={(lookFrom) => setAsked({ ...asked, lookFrom })}
        />
      )}
      <p>
        <Button type="submit">Add the page</Button>
      </p>
    </form>
  );
};
