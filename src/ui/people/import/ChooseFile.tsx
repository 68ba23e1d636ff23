import { useId, useState } from "react";
import { startImport } from "../../../contract/peopleImport";
import { Button } from "../../kit/Button";
import { sendFile } from "../../kit/data/call";
import { useReady } from "../../kit/data/useReady";
import kit from "../../kit/kit.module.css";
import styles from "./import.module.css";

/** Takes a file of people in. Nobody is changed by it: next it is said how it is read. */
export const ChooseFile = () => {
  const id = useId();
  const ready = useReady();
  const [file, setFile] = useState<File>();
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState<string>();
  const send = async () => {
    if (!file) return setWrong("Choose a file.");
    setBusy(true);
    const answer = await sendFile(startImport, file, { request: { name: file.name.slice(-200) } });
    setBusy(false);
    if (!answer.ok) return setWrong(answer.fields["file"] ?? answer.message);
    location.assign(`/desk/people/import?id=${answer.value.id}`);
  };
  return (
    <form
      className={styles.choose}
      inert={!ready}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void send();
      }}
    >
      <p>
        A CSV file with a line for each person and heads above the columns. You then say what each column holds, see what would come of it, and bring
        the people in. Nobody is written to because of it.
      </p>
      <div className={kit.field}>
        <label className={kit.label} htmlFor={id}>
          File
        </label>
        <input
          id={id}
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          aria-invalid={wrong ? true : undefined}
          aria-describedby={`${id}-says`}
          onChange={(event) => {
            setFile(event.currentTarget.files?.[0]);
            setWrong(undefined);
          }}
        />
        <p id={`${id}-says`} className={wrong ? kit.wrong : kit.hint} role={wrong ? "alert" : undefined}>
          {wrong ?? "250,000 lines and 80 MB at most; commas, semicolons or tabs."}
        </p>
      </div>
      <Button type="submit" main disabled={busy}>
        {busy ? "Uploading…" : "Upload the file"}
      </Button>
    </form>
  );
};
