import { useEffect, useRef } from "react";
import { previewEmail, sendTestEmail } from "../../contract/emails";
import { shortMoment, zoneCity } from "../../core/words";
import { dropWords } from "../../core/work";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { useRead } from "../kit/data/useRead";
import { say } from "../kit/notices";
import styles from "./emails.module.css";

interface Props {
  slug: string;
  id: string;
  /** The version of the launch that is shown: a change draws it anew. */
  version: number;
  zone: string;
  /** Who reads it; undefined for anybody whose name is not known. */
  reader: { id: string; name: string } | undefined;
  mayTest: boolean;
}

/** An email as somebody gets it, when it goes to them or why it does not, and its text for who reads no HTML. */
export const EmailPreview = ({ slug, id, version, zone, reader, mayTest }: Props) => {
  const request: { to?: string } = reader ? { to: reader.id } : {};
  const { value, failure, again } = useRead(previewEmail, { params: { slug, email: id }, request });
  const shown = useRef(version);
  useEffect(() => {
    if (shown.current === version) return;
    shown.current = version;
    again();
  }, [version, again]);
  const test = async () => {
    const answer = await call(sendTestEmail, { params: { slug, email: id }, request });
    say(answer.ok ? `Sent to ${answer.value.to}.` : answer.message, !answer.ok);
  };
  const theirs = value?.zone && value.zone !== zone ? value.zone : undefined;
  return (
    <section aria-label="As it is read" className={styles.preview}>
      <h2>{value?.subject ?? "…"}</h2>
      <p className="muted">
        as {reader ? <b>{reader.name}</b> : "anybody"} gets it
        {value?.at && `, ${shortMoment(value.at, zone)} ${zoneCity(zone)}`}
        {value?.at && theirs && `, which is ${shortMoment(value.at, theirs)} in ${zoneCity(theirs)}`}
        {value && !value.at && ", if their clock started now"}
      </p>
      {value?.stop === "not_published" && (
        <p className={styles.stop}>It is not published yet: write it, and publish it. Until then it goes to nobody.</p>
      )}
      {value?.stop && value.stop !== "not_published" && (
        <p className={styles.stop}>It does not go to them: {dropWords[value.stop] ?? value.stop}. Others get this.</p>
      )}
      {failure && <p role="alert">{failure}</p>}
      <iframe
        title="The email"
        sandbox=""
        src={`/desk/${slug}/email-${id}?${new URLSearchParams({ ...(reader ? { to: reader.id } : {}), v: String(version) })}`}
      />
      <details>
        <summary>Its text, for who reads no pictures and colours</summary>
        <pre>{value?.text}</pre>
      </details>
      {mayTest && (
        <p>
          <Button onClick={() => void test()}>Send it to me as a test</Button>
        </p>
      )}
      {!reader && <p className="muted">Choose a person under “As seen” to read theirs.</p>}
    </section>
  );
};
