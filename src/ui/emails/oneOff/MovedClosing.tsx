import { useEffect, useRef, useState } from "react";
import { addOneOff, readMovedClosing } from "../../../contract/emails";
import { counted, fullMoment } from "../../../core/words";
import { Button } from "../../kit/Button";
import { call } from "../../kit/data/call";
import { useRead } from "../../kit/data/useRead";
import { say } from "../../kit/notices";
import styles from "../emails.module.css";

interface Props {
  slug: string;
  zone: string;
  mayChange: boolean;
  /** Of the settings: a closing may have moved with them. */
  version: number;
  /** What happens once the email is begun. */
  onBegun?: (id: string) => void;
}

/** Where emails told people another closing than holds: how many, which, and one email to just them. */
export const MovedClosing = ({ slug, zone, mayChange, version, onBegun }: Props) => {
  const params = { slug };
  const { value, again } = useRead(readMovedClosing, { params }, { everyMs: () => 15_000 });
  const read = useRef(version);
  useEffect(() => {
    if (read.current === version) return;
    read.current = version;
    again();
  });
  const [busy, setBusy] = useState(false);
  if (!value?.closes || value.told.length === 0) return null;
  const { closes, told } = value;
  const people = told.reduce((sum, one) => sum + one.people, 0);
  const mayWrite = told.reduce((sum, one) => sum + one.mayWrite, 0);
  const begin = async () => {
    setBusy(true);
    const answer = await call(addOneOff, { params, request: { about: "moved_closing" } });
    setBusy(false);
    if (!answer.ok) return say(answer.message, true);
    if (onBegun) onBegun(answer.value.id);
    else location.assign(`/desk/${slug}/emails?${new URLSearchParams({ email: answer.value.id })}`);
  };
  return (
    <section aria-label="A closing that was moved" className={styles.moved}>
      <p>
        <strong>{counted(people, "person was", "people were")} told another closing</strong> than {fullMoment(closes, zone)}:{" "}
        {told
          .slice(0, 3)
          .map(({ closing, people: n }) => fullMoment(closing, zone) + (told.length > 1 ? ` (${n.toLocaleString("en")})` : ""))
          .join(", ")}
        {told.length > 3 && ", and others"}.
      </p>
      {mayChange && mayWrite > 0 && (
        <Button onClick={() => void begin()} disabled={busy}>
          {`Write to just them: ${counted(mayWrite, "person", "people")}`}
        </Button>
      )}
    </section>
  );
};
