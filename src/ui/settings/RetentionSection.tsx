import { say } from "../kit/notices";
import { changeRetention } from "../../contract/settings";
import { useState } from "react";
import { cutsConditions, retained, type Retained, type Retention } from "../../core/settings";
import { Field } from "../kit/fields/Field";
import { call } from "../kit/data/call";
import styles from "./settings.module.css";

interface Props {
  first: Retention;
  mayWrite: boolean;
}

const words: Record<Retained, { label: string; hint: string }> = {
  log: { label: "Event log, days", hint: "What each person did. Totals are kept." },
  visits: { label: "Daily visits, days", hint: "How often each person visited, day by day." },
  mail: { label: "Contents of sent emails, days", hint: "The record that an email was sent is kept." },
  notices: { label: "Webhooks received and sent, days", hint: "As they came from processors and marketplaces, and as they went to other tools." },
  buyers: {
    label: "Name and address of erased buyers, days from the order",
    hint: "Only owner and finance see them. Ask your adviser how long the law has books kept.",
  },
  checkouts: { label: "Unpaid checkouts, days", hint: "With the names and addresses typed into them." },
};

/** For how many days what is not kept for good is kept. Each field is saved when it is left. */
export const RetentionSection = ({ first, mayWrite }: Props) => {
  const [kept, setKept] = useState(first);
  const [typed, setTyped] = useState<Partial<Record<Retained, string>>>({});
  const [wrong, setWrong] = useState<Partial<Record<Retained, string>>>({});
  const shown = (what: Retained) => typed[what] ?? kept[what]?.toString() ?? "";
  const save = async (what: Retained) => {
    const text = shown(what).trim();
    const days = text === "" ? null : Number(text);
    if (days === (kept[what] ?? null)) return setWrong((now) => ({ ...now, [what]: undefined }));
    if (days !== null && !Number.isInteger(days)) return setWrong((now) => ({ ...now, [what]: "A number of days; empty keeps it for good." }));
    const saved = await call(changeRetention, { request: { what, days } });
    if (!saved.ok) {
      if (!saved.fields["days"]) say(saved.message, true);
      return setWrong((now) => ({ ...now, [what]: saved.fields["days"] }));
    }
    setKept(saved.value);
    setTyped((now) => ({ ...now, [what]: undefined }));
    setWrong((now) => ({ ...now, [what]: undefined }));
    say(days === null ? "Saved. It is kept for good from now on." : `Saved. What is older than ${days} days is deleted within the hour.`);
  };
  return (
    <section aria-label="Retention" className={styles.column} inert={!mayWrite}>
      <h2>Retention</h2>
      <p className="muted">
        Leave a field empty to keep it for good. What is deleted cannot be restored. Orders, payments and the ledger are always kept.
      </p>
      {(Object.keys(retained) as Retained[]).map((what) => (
        <Field
          key={what}
          label={words[what].label}
          hint={what === "visits" && cutsConditions(kept) ? `${words[what].hint} Conditions cannot look back further than this.` : words[what].hint}
          inputMode="numeric"
          placeholder="for good"
          value={shown(what)}
          wrong={wrong[what]}
          onChange={(event) => {
            const { value } = event.currentTarget;
            setTyped((now) => ({ ...now, [what]: value }));
          }}
          onBlur={() => void save(what)}
        />
      ))}
    </section>
  );
};
