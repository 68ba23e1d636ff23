import { setRecoveryDelay } from "../../contract/launches";
import { useState } from "react";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { Pane } from "../kit/Pane";
import { call } from "../kit/data/call";
import { say } from "../kit/notices";

/** When the email to a lost buyer goes. */
export const DelayForm = ({ slug, minutes }: { slug: string; minutes: number }) => {
  const [typed, setTyped] = useState(String(minutes));
  const [wrong, setWrong] = useState<string>();
  const save = async () => {
    const answer = await call(setRecoveryDelay, { params: { slug }, request: { minutes: typed } });
    setWrong(answer.ok ? undefined : (answer.fields["minutes"] ?? answer.message));
    if (answer.ok) say("The new delay holds for every email that still waits");
  };
  return (
    <Pane title="When it is sent">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
        noValidate
      >
        <Field
          label="Minutes after the last activity"
          inputMode="numeric"
          value={typed}
          onChange={(event) => setTyped(event.currentTarget.value)}
          wrong={wrong}
          hint="Emails that wait already move with it. After the closing bell none goes."
        />
        <p style={{ marginTop: 12 }}>
          <Button main type="submit">
            Set the delay
          </Button>
        </p>
      </form>
    </Pane>
  );
};
