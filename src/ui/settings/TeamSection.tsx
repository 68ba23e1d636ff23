import { say } from "../kit/notices";
import { changeMembership, endInvitation, invite as inviteMember, type Team } from "../../contract/settings";
import { useState, type FormEvent } from "react";
import { roles, type Role } from "../../core/access";
import { shortMoment, zoneCity } from "../../core/words";
import { roleWords } from "../../core/settings";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import { type Answer, call } from "../kit/data/call";
import { Table } from "../kit/Table";
import styles from "./settings.module.css";

interface Props {
  first: Team;
  /** Who looks. */
  me: string;
  mayWrite: boolean;
  zone: string;
}

const roleOptions = roles.map((value) => ({ value, label: value }));

/** Who works at this desk, as what; who is invited; and who was here before. */
export const TeamSection = ({ first, me, mayWrite, zone }: Props) => {
  const [{ members, invitations }, setTeam] = useState(first);
  const [typed, setTyped] = useState<{ email: string; role: Role }>({ email: "", role: "editor" });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [leaving, setLeaving] = useState<string>();
  const act = async (asked: Promise<Answer<Team>>, done: string): Promise<boolean> => {
    const answer = await asked;
    if (!answer.ok) {
      if (Object.keys(answer.fields).length === 0) say(answer.message, true);
      setWrong(answer.fields);
      return false;
    }
    setWrong({});
    setTeam(answer.value);
    say(done);
    return true;
  };
  const invite = async (event: FormEvent) => {
    event.preventDefault();
    if (await act(call(inviteMember, { request: typed }), `An invitation is on its way to ${typed.email.trim()}. It holds for seven days.`))
      setTyped({ ...typed, email: "" });
  };
  const present = members.filter(({ endedAt }) => endedAt === null);
  const former = members.filter(({ endedAt }) => endedAt !== null);
  return (
    <section aria-label="Team">
      <h2>Team</h2>
      <Table
        name="Team"
        rows={present}
        rowKey={({ id }) => id}
        columns={[
          {
            title: "Member",
            cell: (one) => (
              <>
                {one.name}
                {one.id === me && <span className="muted"> (you)</span>}
                <br />
                <span className="muted">{one.email}</span>
              </>
            ),
          },
          {
            title: "Role",
            cell: (one) =>
              mayWrite ? (
                <Select
                  label={`Role of ${one.name}`}
                  hideLabel
                  value={one.role}
                  options={roleOptions}
                  onChange={(picked) => {
                    const next = picked;
                    void act(
                      call(changeMembership, { params: { id: one.id }, request: { do: "role", role: next } }),
                      `${one.name} is ${next} from now on.`,
                    );
                  }}
                />
              ) : (
                one.role
              ),
          },
          {
            title: "",
            cell: (one) =>
              mayWrite &&
              (leaving === one.id ? (
                <span className={styles.sure}>
                  What {one.id === me ? "you" : one.name} made stays; {one.id === me ? "you are" : "they are"} signed out at once.{" "}
                  <button
                    type="button"
                    className={styles.link}
                    onClick={() => {
                      setLeaving(undefined);
                      void act(
                        call(changeMembership, { params: { id: one.id }, request: { do: "end" } }),
                        `${one.name} does not belong to the team any more.`,
                      ).then((ended) => ended && one.id === me && location.assign("/desk/sign-in"));
                    }}
                  >
                    End the membership
                  </button>{" "}
                  <button type="button" className={styles.link} onClick={() => setLeaving(undefined)}>
                    Keep it
                  </button>
                </span>
              ) : (
                <button type="button" className={styles.link} aria-label={`End the membership of ${one.name}`} onClick={() => setLeaving(one.id)}>
                  End
                </button>
              )),
          },
        ]}
      />
      {invitations.length > 0 && (
        <Table
          name="Invitations"
          rows={invitations}
          rowKey={({ id }) => id}
          columns={[
            {
              title: "Invited",
              cell: ({ email, by }) => (
                <>
                  {email}
                  <br />
                  <span className="muted">by {by}</span>
                </>
              ),
            },
            { title: "Role", cell: (one) => one.role },
            { title: "Valid until", cell: ({ expiresAt }) => `${shortMoment(expiresAt, zone)}, ${zoneCity(zone)}` },
            {
              title: "",
              cell: ({ id, email }) =>
                mayWrite && (
                  <button
                    type="button"
                    className={styles.link}
                    aria-label={`Take back the invitation of ${email}`}
                    onClick={() =>
                      void act(call(endInvitation, { params: { id }, request: { do: "end" } }), `The invitation of ${email} opens nothing any more.`)
                    }
                  >
                    Take back
                  </button>
                ),
            },
          ]}
        />
      )}
      {former.length > 0 && <p className="muted">Before: {former.map(({ name }) => name).join(", ")}. What they made is still here.</p>}
      {mayWrite ? (
        <form onSubmit={(event) => void invite(event)} noValidate className={styles.invite}>
          <Field
            label="Invite by email"
            type="email"
            value={typed.email}
            wrong={wrong["email"]}
            onChange={(event) => setTyped({ ...typed, email: event.currentTarget.value })}
          />
          <Select label="Role" value={typed.role} options={roleOptions} onChange={(picked) => setTyped({ ...typed, role: picked })} />
          <Button type="submit">Send the invitation</Button>
          <p className="muted">
            {typed.role}: {roleWords[typed.role]}.
          </p>
        </form>
      ) : (
        <p className="muted">An owner invites and changes roles.</p>
      )}
    </section>
  );
};
