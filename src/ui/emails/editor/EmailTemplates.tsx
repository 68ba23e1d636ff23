import { useState } from "react";
import { dropEmailTemplate, keepEmailTemplate, listEmailTemplates } from "../../../contract/emails";
import type { EmailContent } from "../../../core/emails";
import { withNewIds } from "../../../core/pages";
import { Button } from "../../kit/Button";
import { call } from "../../kit/data/call";
import { useRead } from "../../kit/data/useRead";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { say } from "../../kit/notices";
import { newId } from "../../pages/editor/editing";
import editor from "../../pages/editor/editor.module.css";
import styles from "../emails.module.css";

interface Props {
  slug: string;
  email: string;
  /** Whether what stands in the email is saved: only then it can be kept. */
  saved: boolean;
  onReplace: (content: EmailContent) => void;
}

/** Begins an email anew from one that was kept, and keeps this one for others. */
export const EmailTemplates = ({ slug, email, saved, onReplace }: Props) => {
  const { value, again } = useRead(listEmailTemplates, {});
  const templates = value?.templates ?? [];
  const [picked, setPicked] = useState("");
  const [name, setName] = useState("");
  const [wrong, setWrong] = useState<string>();
  const chosen = templates.find(({ id }) => id === picked) ?? templates[0];
  const begin = () => {
    if (!chosen) return;
    onReplace(withNewIds(chosen.content, newId));
    say(`Begun from “${chosen.name}”. Undo brings back what stood here.`);
  };
  const keep = async () => {
    const answer = await call(keepEmailTemplate, { params: { slug, email }, request: { name } });
    setWrong(answer.ok ? undefined : answer.fields["name"]);
    if (!answer.ok) return answer.fields["name"] ? undefined : say(answer.message, true);
    say(`“${name}” is kept as a template for every launch.`);
    setName("");
    again();
  };
  const drop = async () => {
    const answer = await call(dropEmailTemplate, { params: { id: chosen!.id }, request: { drop: true } });
    say(answer.ok ? `“${chosen!.name}” is no template any more.` : answer.message, !answer.ok);
    again();
  };
  return (
    <div className={styles.templates}>
      {chosen && (
        <details className={editor.tool}>
          <summary>Begin anew from a template</summary>
          <Select label="Template" value={chosen.id} options={templates.map((one) => ({ value: one.id, label: one.name }))} onChange={setPicked} />
          <p>
            <Button onClick={begin}>Replace this email with it</Button>
          </p>
          <Button onClick={() => void drop()}>Delete this template</Button>
        </details>
      )}
      <details className={editor.tool}>
        <summary>Keep as a template</summary>
        <Field label="Name of the template" value={name} wrong={wrong} onChange={(event) => setName(event.currentTarget.value)} />
        <Button disabled={!saved} onClick={() => void keep()}>
          Keep it
        </Button>
      </details>
    </div>
  );
};
