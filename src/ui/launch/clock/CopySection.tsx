import { say } from "../../kit/notices";
import { copyLaunch } from "../../../contract/launches";
import { useState } from "react";
import { Button } from "../../kit/Button";
import { DateTimeField } from "../../kit/fields/DateTimeField";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { call } from "../../kit/data/call";
import styles from "./Clock.module.css";

interface Props {
  slug: string;
  name: string;
  zone: string;
  personal: boolean;
}

/** Does it again: the same launch on other dates, or as an always-on one. */
export const CopySection = ({ slug, name, zone, personal }: Props) => {
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
          label="Copy it as"
          value={as}
          options={[
            { value: "dates", label: personal ? "the same again" : "the same on new dates" },
            ...(personal ? [] : [{ value: "always_on" as const, label: "an always-on launch" }]),
          ]}
          onChange={setAs}
        />
        {as === "dates" && !personal && (
          <DateTimeField label="Doors of the copy open" value={opensWall} zone={zone} wrong={wrong["opensWall"]} onChange={setOpens} />
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
