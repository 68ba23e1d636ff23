import { copyLaunch } from "../../../contract/launches";
import { useState } from "react";
import { Button } from "../../kit/Button";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { call } from "../../kit/data/call";
import styles from "./Clock.module.css";

interface Props {
  slug: string;
  name: string;
  personal: boolean;
  say: (text: string, loss?: boolean) => void;
}

/** Does it again: the same launch on other dates, or as an always-on one. */
export const CopySection = ({ slug, name, personal, say }: Props) => {
  const [as, setAs] = useState<"dates" | "always_on">("dates");
  const [copyName, setCopyName] = useState(`${name}, again`);
  const [opensWall, setOpens] = useState("");
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [made, setMade] = useState<{ slug: string; remarks: string[] }>();
  const copy = async () => {
    const answer = await call(copyLaunch, { params: { slug }, request: { name: copyName, as, opensWall } });
    if (!answer.ok) {
      setWrong(answer.fields);
      return say(answer.message, true);
    }
    setMade(answer.value);
  };
  return (
    <section className={styles.section} aria-labelledby="copy">
      <h2 id="copy">Do it again</h2>
      <p className="muted">
        Pages come along as drafts, with the offers, gates, emails and looks. On new dates every time keeps its distance on the wall, on either side
        of a change of the clocks.
      </p>
      <div className={styles.three}>
        <Field label="Name of the copy" value={copyName} wrong={wrong["name"]} onChange={(event) => setCopyName(event.currentTarget.value)} />
        <Select
          label="As"
          value={as}
          options={[
            { value: "dates", label: personal ? "the same again" : "the same on new dates" },
            ...(personal ? [] : [{ value: "always_on", label: "an always-on launch" }]),
          ]}
          onChange={(event) => setAs(event.currentTarget.value as typeof as)}
        />
        {as === "dates" && !personal && (
          <Field
            label="Its doors open"
            type="datetime-local"
            value={opensWall}
            wrong={wrong["opensWall"]}
            onChange={(event) => setOpens(event.currentTarget.value)}
          />
        )}
      </div>
      <p className={styles.actions}>
        <Button onClick={() => void copy()}>Copy the launch</Button>
      </p>
      {made && (
        <div role="status" data-copied>
          <p>
            <a href={`/desk/${made.slug}/score`}>The copy is laid out at /{made.slug}.</a>
          </p>
          {made.remarks.map((remark) => (
            <p key={remark}>{remark}</p>
          ))}
        </div>
      )}
    </section>
  );
};
