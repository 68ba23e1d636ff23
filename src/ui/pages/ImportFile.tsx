import { useId, useState } from "react";
import { importFile } from "../../contract/launches";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import kit from "../kit/kit.module.css";
import { sendFile } from "../kit/data/call";
import { useReady } from "../kit/data/useReady";
import { say } from "../kit/notices";
import styles from "./editor/editor.module.css";

interface Props {
  /** The launch that a page is brought into; without one, a launch is expected. */
  launch?: string;
}

/** Imports a page, a template or a whole launch that was saved as a file. */
export const ImportFile = ({ launch }: Props) => {
  const id = useId();
  const ready = useReady();
  const [file, setFile] = useState<File>();
  const [address, setAddress] = useState("");
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const importIt = async () => {
    if (!file) return setWrong({ file: "Choose a file that was saved here or on another desk." });
    setBusy(true);
    const answer = await sendFile(importFile, file, { request: { launch, address } });
    setBusy(false);
    if (!answer.ok) {
      const { file: says, address: atAddress, ...inside } = answer.fields;
      // What is wrong within the file has no field of its own here: it stands with the file.
      setWrong({ ...(says ? { file: [says, ...Object.values(inside)].join(" ") } : {}), ...(atAddress ? { address: atAddress } : {}) });
      return Object.keys(answer.fields).length === 0 && say(answer.message, true);
    }
    setWrong({});
    if (answer.value.href) return location.assign(answer.value.href);
    say("The template is among yours now.");
    location.reload();
  };
  return (
    <form
      className={styles.newPage}
      inert={!ready}
      noValidate
      aria-label="Import a file"
      onSubmit={(event) => {
        event.preventDefault();
        void importIt();
      }}
    >
      <h2>Import a file</h2>
      <p className="muted">
        {launch
          ? "A page or a template that was saved as a file. It comes as a draft, with its pictures."
          : "A launch that was saved as a file: its time, products, offer path and pages come as drafts."}
      </p>
      <div className={kit.field}>
        <label className={kit.label} htmlFor={id}>
          File
        </label>
        <input
          id={id}
          type="file"
          accept=".zip,application/zip"
          aria-invalid={wrong["file"] ? true : undefined}
          aria-describedby={wrong["file"] ? `${id}-says` : undefined}
          onChange={(event) => {
            setFile(event.currentTarget.files?.[0]);
            setWrong({});
          }}
        />
        {wrong["file"] && (
          <p id={`${id}-says`} className={kit.wrong} role="alert">
            {wrong["file"]}
          </p>
        )}
      </div>
      {launch && (
        <Field
          label={`Address, below /${launch}/`}
          hint="Leave empty to use the address it had."
          value={address}
          wrong={wrong["address"]}
          onChange={(event) => setAddress(event.currentTarget.value)}
        />
      )}
      <p>
        <Button type="submit" disabled={busy}>
          {busy ? "Importing…" : "Import"}
        </Button>
      </p>
    </form>
  );
};
