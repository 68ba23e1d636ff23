import { useRef, useState } from "react";
import { changeSendingLimits } from "../../contract/settings";
import type { SendingLimits } from "../../core/emails";
import { Field } from "../kit/fields/Field";
import { call } from "../kit/data/call";
import { say } from "../kit/notices";
import styles from "./settings.module.css";

interface Props {
  first: SendingLimits;
  version: number;
  mayWrite: boolean;
}

/** A number as it was typed; nothing is no limit. */
const number = (text: string): number | null => (text.trim() === "" ? null : Number(text));

/** How mail that goes to many is held back. Saved when a field is left. */
export const SendingSection = ({ first, version, mayWrite }: Props) => {
  const [typed, setTyped] = useState({
    from: first.quiet?.from ?? "",
    to: first.quiet?.to ?? "",
    perDay: first.perDay?.toString() ?? "",
    perMinute: first.perMinute?.toString() ?? "",
  });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const saved = useRef({ version, text: JSON.stringify(typed) });
  const turn = useRef<Promise<unknown>>(Promise.resolve());
  const save = async (now: typeof typed) => {
    const text = JSON.stringify(now);
    if (text === saved.current.text) return setWrong({});
    const [from, to] = [now.from.trim(), now.to.trim()];
    // Half a pair is still being typed.
    if ((from === "") !== (to === ""))
      return setWrong({ [from ? "limits.quiet.to" : "limits.quiet.from"]: "Quiet hours need a beginning and an end." });
    // What is no number would arrive as no limit.
    const odd = (["perDay", "perMinute"] as const).filter((name) => Number.isNaN(number(now[name]) ?? 0));
    if (odd.length > 0) return setWrong(Object.fromEntries(odd.map((name) => [`limits.${name}`, "A number, or nothing for no limit."])));
    const limits: SendingLimits = { quiet: from ? { from, to } : null, perDay: number(now.perDay), perMinute: number(now.perMinute) };
    const answer = await call(changeSendingLimits, { request: { limits, version: saved.current.version } });
    if (!answer.ok) {
      if (Object.keys(answer.fields).length === 0) say(answer.message, true);
      return setWrong(answer.fields);
    }
    saved.current = { version: answer.value.version, text };
    setWrong({});
    say("Saved. Emails that wait are dated anew.");
  };
  const field = (name: keyof typeof typed, path: string, label: string, placeholder: string, hint?: string) => (
    <Field
      label={label}
      hint={hint}
      placeholder={placeholder}
      value={typed[name]}
      wrong={wrong[`limits.${path}`]}
      onChange={(event) => {
        const { value } = event.currentTarget;
        setTyped((now) => ({ ...now, [name]: value }));
      }}
      onBlur={() => {
        turn.current = turn.current.then(() => save(typed));
      }}
    />
  );
  return (
    <section aria-label="Sending" className={styles.column} inert={!mayWrite}>
      <h2>Sending</h2>
      <p className="muted">
        For emails to many: those on bells, in sequences and to lost buyers. Confirmations, receipts and library links go at once, at any hour.
      </p>
      <div className={styles.pair}>
        {field("from", "quiet.from", "Quiet from", "none")}
        {field("to", "quiet.to", "Quiet until", "none")}
      </div>
      <p className={`muted ${styles.note}`}>
        In each reader’s own zone, such as 22:00 until 08:00. What is due then waits for the morning; the last email before a close goes a quarter of
        an hour before quiet begins instead.
      </p>
      {field(
        "perDay",
        "perDay",
        "Most emails to one person in 24 hours",
        "no limit",
        "Over all launches. The last email before a close keeps its place.",
      )}
      {field("perMinute", "perMinute", "Most emails a minute", "no limit", "What your mail server takes without complaint.")}
    </section>
  );
};
