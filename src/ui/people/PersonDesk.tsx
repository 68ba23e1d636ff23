import { useState } from "react";
import type { readAccess } from "../../contract/delivery";
import { type AnswerOf, hrefOf } from "../../contract/endpoint";
import { exportPerson, readPerson, resumeEmailsTo, stopEmailsTo, tagPeople } from "../../contract/people";
import type { PersonRecord } from "../../core/people";
import { counted, shortMoment } from "../../core/words";
import { call } from "../kit/data/call";
import { useReady } from "../kit/data/useReady";
import { AccessOfPerson } from "../delivery/AccessOfPerson";
import { Button } from "../kit/Button";
import { say } from "../kit/notices";
import { CorrectPerson, type CorrectionChoices } from "./CorrectPerson";
import { ErasePerson } from "./ErasePerson";
import { LaunchesOfPerson } from "./LaunchesOfPerson";
import { MergePerson } from "./MergePerson";
import { PersonTimeline } from "./PersonTimeline";
import styles from "./people.module.css";

interface Props {
  first: PersonRecord;
  access: AnswerOf<typeof readAccess>;
  zone: string;
  choices: CorrectionChoices;
  mayEdit: boolean;
  mayExport: boolean;
  mayErase: boolean;
  mayGrant: boolean;
}

/** One person: what they did and got, who they are, what they agreed to, own and may still expect; and what can be done for them. */
export const PersonDesk = ({ first, access, zone, choices, mayEdit, mayExport, mayErase, mayGrant }: Props) => {
  const ready = useReady();
  const [person, setPerson] = useState(first);
  const { contact } = person;
  const moment = (at: Date) => shortMoment(at, zone);
  const again = async () => {
    const answer = await call(readPerson, { params: { id: person.id } });
    if (answer.ok) setPerson(answer.value);
  };
  const stop = async () => {
    const answer = await call(stopEmailsTo, { params: { id: person.id } });
    if (!answer.ok) return say(answer.message, true);
    await again();
    say("No more emails go to them, receipts and what they ask for excepted.");
  };
  const resume = async () => {
    const answer = await call(resumeEmailsTo, { params: { id: person.id } });
    if (!answer.ok) return say(answer.message, true);
    await again();
    say("Emails go to this address again.");
  };
  return (
    <div inert={!ready} className={styles.person}>
      <PersonTimeline entries={person.timeline} zone={zone} />
      <div className={styles.facts}>
        <Tags person={person} mayEdit={mayEdit} onChange={again} />
        <LaunchesOfPerson person={person} zone={zone} mayEdit={mayEdit} onChange={again} />
        <AccessOfPerson person={person.id} first={access} zone={zone} mayGrant={mayGrant && contact !== null} />
        <section aria-label="Consent">
          <h2>Consent</h2>
          {person.consents.length === 0 && <p className="muted">{contact ? "No consent was given on a form." : "No address, no consent."}</p>}
          <ul>
            {person.consents.map((one) => (
              <li key={`${one.askedAt.toISOString()} ${one.form} ${one.file}`}>
                “{one.words}”
                <span className="muted">
                  {" "}
                  {moment(one.askedAt)}
                  {one.file === null
                    ? `, form “${one.form}” on ${one.page === "" ? "/" : `/${one.page}`} of ${one.launch}`
                    : `, as the file ${one.file} states`}
                  {one.confirmedAt === null ? "; not confirmed yet" : one.confirmedAt > one.askedAt ? `; confirmed ${moment(one.confirmedAt)}` : ""}
                </span>
              </li>
            ))}
          </ul>
          {contact?.unsubscribedAt && <p className={styles.loss}>Unsubscribed {moment(contact.unsubscribedAt)}.</p>}
          {contact?.suppressed && (
            <div className={styles.loss}>
              <p>
                {contact.suppressed.because === "complained" ? "They reported an email as spam" : "Mail to this address came back"}{" "}
                {moment(contact.suppressed.at)}
                {contact.suppressed.says && contact.suppressed.because === "bounced" ? `: “${contact.suppressed.says}”` : ""}. Only receipts,
                confirmations and library links go there.
              </p>
              {mayEdit && contact.suppressed.because === "bounced" && <Button onClick={() => void resume()}>Write to it again</Button>}
            </div>
          )}
          {contact?.fewerSince && <p>They asked for one email a week at most, {moment(contact.fewerSince)}.</p>}
          {contact && !contact.unsubscribedAt && mayEdit && <Button onClick={() => void stop()}>Stop all emails to them</Button>}
        </section>
        {contact && (
          <section aria-label="Who they are">
            <h2>Who they are</h2>
            {mayExport && (
              <p>
                <a href={hrefOf(exportPerson, { id: person.id })} download>
                  Download this record as JSON
                </a>
              </p>
            )}
            <p className="muted">
              {contact.provenAt ? `Showed to read this inbox ${moment(contact.provenAt)}.` : "Has not shown to read this inbox yet."}{" "}
              {counted(person.browsers, "browser")}
              {person.merged > 0 && `, ${counted(person.merged, "record")} merged into this one`}
              {contact.hasPassword && ", a library password is set"}.
            </p>
            {contact.otherEmails.length > 0 && <p>Also known by {contact.otherEmails.join(", ")}</p>}
            {mayEdit ? (
              <CorrectPerson key={JSON.stringify(contact)} person={person} contact={contact} choices={choices} onSaved={again} />
            ) : (
              <WhoTheyAre contact={contact} countries={choices.countries} />
            )}
          </section>
        )}
        {contact && mayEdit && (
          <section aria-label="Merge or erase">
            <h2>Merge or erase</h2>
            <MergePerson id={person.id} />
            {mayErase && (
              <div className={styles.erase}>
                <ErasePerson id={person.id} name={contact.firstName || contact.email} />
              </div>
            )}
          </section>
        )}
      </div>
    </div>
  );
};

/** The same for whoever may only look. */
const WhoTheyAre = ({ contact, countries }: { contact: NonNullable<PersonRecord["contact"]>; countries: Record<string, string> }) => (
  <>
    <p>{[contact.phone, contact.country && (countries[contact.country] ?? contact.country), contact.zone].filter(Boolean).join(" · ")}</p>
    {Object.entries(contact.answers).map(([name, value]) => (
      <p key={name}>
        <span className="muted">{name}</span> {value}
      </p>
    ))}
  </>
);

/** The tags of a person, each removed by a press, and a field for another. */
const Tags = ({ person, mayEdit, onChange }: { person: PersonRecord; mayEdit: boolean; onChange: () => Promise<void> }) => {
  const [typed, setTyped] = useState("");
  const [wrong, setWrong] = useState<string>();
  const put = async (tag: string, set: boolean) => {
    const answer = await call(tagPeople, { request: { people: [person.id], tag, set } });
    if (!answer.ok) return setWrong(answer.fields["tag"] ?? answer.message);
    setWrong(undefined);
    setTyped("");
    await onChange();
    say(set ? `Tagged “${tag.trim()}”.` : `“${tag}” was removed.`);
  };
  return (
    <section aria-label="Tags">
      <h2>Tags</h2>
      {person.tags.length === 0 && <p className="muted">None yet.</p>}
      <ul className={styles.tags}>
        {person.tags.map(({ tag }) => (
          <li key={tag}>
            {tag}
            {mayEdit && (
              <button type="button" aria-label={`Remove the tag ${tag}`} onClick={() => void put(tag, false)}>
                remove
              </button>
            )}
          </li>
        ))}
      </ul>
      {mayEdit && (
        <form
          className={styles.tagging}
          noValidate
          onSubmit={(event) => {
            event.preventDefault();
            void put(typed, true);
          }}
        >
          <input
            aria-label="Another tag"
            aria-invalid={wrong ? true : undefined}
            aria-describedby={wrong ? "tag-wrong" : undefined}
            placeholder="another tag"
            value={typed}
            onChange={(event) => setTyped(event.currentTarget.value)}
          />
          <button type="submit">Add the tag</button>
          {wrong && (
            <p id="tag-wrong" role="alert" className={styles.loss}>
              {wrong}
            </p>
          )}
        </form>
      )}
    </section>
  );
};
