import { useState } from "react";
import { changeSigning } from "../../contract/settings";
import type { AnswerOf, BodyOf } from "../../contract/endpoint";
import { fullMoment } from "../../core/words";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { say } from "../kit/notices";
import { CopyText } from "../kit/CopyText";
import styles from "./settings.module.css";

interface Props {
  first: AnswerOf<typeof changeSigning>;
  mayWrite: boolean;
  zone: string;
}

type Domain = AnswerOf<typeof changeSigning>["domains"][number];

/** The keys that sign emails from each domain, each with the DNS record that makes it known. */
export const SigningSection = ({ first, mayWrite, zone }: Props) => {
  const [{ domains }, setSigning] = useState(first);
  const change = async (request: BodyOf<typeof changeSigning>, done: string) => {
    const answer = await call(changeSigning, { request });
    if (!answer.ok) return say(answer.message, true);
    setSigning(answer.value);
    say(done);
  };
  return (
    <section aria-label="Signed emails" className={styles.column} inert={!mayWrite}>
      <h2>Signed emails</h2>
      <p className="muted">
        A signature (DKIM) lets mail servers see that an email from {domains[0]!.domain} is yours; many deliver nothing to many people without one.
        Make a key, publish its record in the DNS of the domain, then sign with it.
      </p>
      {domains.map((one) => (
        <div key={one.domain}>
          {domains.length > 1 && <DomainTitle {...one} />}
          {one.keys.map(({ selector, madeAt, usedSince, record }) => (
            <div key={selector} className={styles.key}>
              <p>
                <strong>{selector}</strong>{" "}
                <span className="muted">
                  {usedSince ? `signs since ${fullMoment(usedSince, zone)}` : `made ${fullMoment(madeAt, zone)}, signs nothing yet`}
                </span>
              </p>
              <dl className={styles.record}>
                <dt>TXT record</dt>
                <dd>
                  <CopyText text={record.name} what="the name of the record" />
                </dd>
                <dt>Value</dt>
                <dd>
                  <CopyText text={record.value} what="the value of the record" />
                </dd>
              </dl>
              {usedSince ? (
                <Button onClick={() => void change({ do: "end", selector }, "Emails go unsigned from now on.")}>Stop signing</Button>
              ) : (
                <Button main onClick={() => void change({ do: "use", selector }, `Every email from ${one.domain} is signed from now on.`)}>
                  The record is published: sign with it
                </Button>
              )}
            </div>
          ))}
          <p className={styles.after}>
            <Button onClick={() => void change({ do: "make", domain: one.domain }, "A key is made. Publish its record, then sign with it.")}>
              {`Make ${one.keys.length === 0 ? "a" : "another"} key${domains.length > 1 ? ` for ${one.domain}` : ""}`}
            </Button>
          </p>
        </div>
      ))}
    </section>
  );
};

const DomainTitle = ({ domain, launches }: Domain) => (
  <>
    <h3>{domain}</h3>
    <p className="muted">{launches.length === 0 ? "Your own sender." : `The sender of ${launches.join(", ")}.`}</p>
  </>
);
