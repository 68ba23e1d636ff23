import { useState } from "react";
import { clockSecret } from "../../contract/launches";
import { Button } from "../kit/Button";
import { CopyText } from "../kit/CopyText";
import { call } from "../kit/data/call";
import { say } from "../kit/notices";

interface Props {
  slug: string;
  origin: string;
  /** What the other tool says: what has happened, and under which name where it has one. */
  notice: { type: "clock.start" } | { type: "person.notice"; notice: string };
  mayChange: boolean;
}

/** How another tool says something of a person: where to, what, and the secret that signs it. */
export const OutsideNotice = ({ slug, origin, notice, mayChange }: Props) => {
  const [secret, setSecret] = useState<string>();
  const ask = async (renew: boolean) => {
    const answer = await call(clockSecret, { params: { slug }, request: { renew } });
    if (!answer.ok) return say(answer.message, true);
    setSecret(answer.value.secret);
    if (renew) say("A new secret is made. Notices signed with the old one are refused from now on.");
  };
  const { type, ...more } = notice;
  const body = JSON.stringify({ type, data: { email: "reader@example.org", first_name: "Reader", ...more } });
  return (
    <>
      <p className="muted">The other tool sends this, signed by the Standard Webhooks specification:</p>
      <CopyText what="the notice" text={`POST ${origin}/api/notices/launch/${slug}\n${body}`} />
      {secret && <CopyText what="the secret" text={secret} />}
      {mayChange && (
        <p>
          {secret ? (
            <Button onClick={() => void ask(true)}>Make a new secret; the old one ends</Button>
          ) : (
            <Button onClick={() => void ask(false)}>Show the secret</Button>
          )}
        </p>
      )}
    </>
  );
};
