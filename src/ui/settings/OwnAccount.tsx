import { say } from "../kit/notices";
import { type RequestOf } from "../../contract/endpoint";
import { changeOwnPassword, endOwnSessions, type SessionRow } from "../../contract/settings";
import { useState, type FormEvent } from "react";
import { shortMoment, zoneCity } from "../../core/words";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { call } from "../kit/data/call";
import { Table } from "../kit/Table";
import styles from "./settings.module.css";

interface Props {
  me: { name: string; email: string };
  first: SessionRow[];
  zone: string;
}

/** One's own password, and where one is signed in. */
export const OwnAccount = ({ me, first, zone }: Props) => {
  const [sessions, setSessions] = useState(first);
  const [typed, setTyped] = useState({ present: "", password: "" });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const change = async (event: FormEvent) => {
    event.preventDefault();
    const answer = await call(changeOwnPassword, { request: typed });
    if (!answer.ok) {
      if (Object.keys(answer.fields).length === 0) say(answer.message, true);
      return setWrong(answer.fields);
    }
    setTyped({ present: "", password: "" });
    setWrong({});
    setSessions((all) => all.filter(({ here }) => here));
    say("Your password is changed. Everywhere else you are signed out.");
  };
  const end = async (body: RequestOf<typeof endOwnSessions>, done: string) => {
    const answer = await call(endOwnSessions, { request: body });
    if (!answer.ok) return say(answer.message, true);
    setSessions(answer.value);
    say(done);
  };
  const moment = (at: Date) => shortMoment(at, zone);
  return (
    <section aria-label="You">
      <hr className="oxford" />
      <h2>You</h2>
      <p>
        {me.name}, {me.email}
      </p>
      <form onSubmit={(event) => void change(event)} noValidate className={styles.password}>
        <input type="hidden" name="username" autoComplete="username" value={me.email} />
        <Field
          label="Current password"
          type="password"
          autoComplete="current-password"
          value={typed.present}
          wrong={wrong["present"]}
          onChange={(event) => setTyped({ ...typed, present: event.currentTarget.value })}
        />
        <Field
          label="New password, ten characters at least"
          type="password"
          autoComplete="new-password"
          value={typed.password}
          wrong={wrong["password"]}
          onChange={(event) => setTyped({ ...typed, password: event.currentTarget.value })}
        />
        <Button type="submit">Change the password</Button>
      </form>
      <h3>Where you are signed in</h3>
      <Table
        name="Sessions"
        rows={sessions}
        rowKey={({ id }) => id}
        columns={[
          {
            title: "Browser",
            cell: ({ device, here }) => (
              <>
                {device || "not known"}
                {here && <span className="muted"> (this one)</span>}
              </>
            ),
          },
          { title: `Last used, ${zoneCity(zone)}`, cell: ({ seenAt }) => moment(seenAt) },
          { title: "Signed in", cell: ({ createdAt }) => moment(createdAt) },
          {
            title: "",
            cell: ({ id, here, device }) =>
              !here && (
                <button
                  type="button"
                  className={styles.link}
                  aria-label={`End the session of ${device || "a browser"}`}
                  onClick={() => void end({ do: "end", id }, "That session is ended.")}
                >
                  End
                </button>
              ),
          },
        ]}
      />
      {sessions.length > 1 && (
        <p className={styles.after}>
          <Button onClick={() => void end({ do: "end_others" }, "Everywhere else you are signed out.")}>Sign out everywhere else</Button>
        </p>
      )}
    </section>
  );
};
