import { useState } from "react";
import type { tagPeople } from "../../contract/people";
import { counted } from "../../core/words";
import type { Answer } from "../kit/data/call";
import { say } from "../kit/notices";
import styles from "./people.module.css";

interface Props {
  /** Whom it is for: "12 people". */
  of: string;
  label: string;
  send: (tag: string, set: boolean) => Promise<Answer<ReturnType<typeof tagPeople.answer.parse>>>;
  onTagged: () => void;
}

/** Sets a tag on many people, or removes it from them. */
export const TagPeople = ({ of, label, send, onTagged }: Props) => {
  const [typed, setTyped] = useState("");
  const [busy, setBusy] = useState(false);
  const tag = async (set: boolean) => {
    setBusy(true);
    const answer = await send(typed, set);
    setBusy(false);
    if (!answer.ok) return say(answer.fields["tag"] ?? answer.message, true);
    const n = counted(answer.value.n, "person", "people");
    say(set ? `${n} got the tag “${typed.trim()}”.` : `${n} lost the tag “${typed.trim()}”.`);
    setTyped("");
    onTagged();
  };
  return (
    <form
      className={styles.tagging}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void tag(true);
      }}
    >
      <input aria-label={label} placeholder="a tag" value={typed} onChange={(event) => setTyped(event.currentTarget.value)} />
      <button type="submit" disabled={busy}>
        Tag {of}
      </button>
      <button type="button" disabled={busy} onClick={() => void tag(false)}>
        Remove the tag
      </button>
    </form>
  );
};
