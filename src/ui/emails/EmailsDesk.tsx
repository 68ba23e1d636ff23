import { useMemo, useState } from "react";
import { readEmailFigures, type EmailFigures } from "../../contract/emails";
import { namedBy } from "../../core/conditions";
import { emailKindNames, emailKindWords, emailRun, usualViewer, type DatedEmail, type QuietHours } from "../../core/emails";
import {
  planOf,
  subjectOf,
  wallTimeOf,
  type EmailSetting,
  type LaunchSource,
  type SequenceSetting,
  type StepSetting,
  type Viewer,
} from "../../core/launch";
import { clockTime, counted, shortMoment } from "../../core/words";
import { Button } from "../kit/Button";
import { useRead } from "../kit/data/useRead";
import { useReady } from "../kit/data/useReady";
import { EmptyState } from "../kit/EmptyState";
import { Table } from "../kit/Table";
import { DraftActions } from "../launch/DraftActions";
import { changed, without } from "../launch/clock/clockDraft";
import { useSettingsDraft } from "../launch/useSettingsDraft";
import type { FilterChoices } from "../people/filter/RowDetails";
import { EmailFields } from "./EmailFields";
import { EmailPreview } from "./EmailPreview";
import { EmailRunDrawing } from "./EmailRunDrawing";
import { droppedWords, hangsWords, openingWords } from "./emailWords";
import { SequenceFields } from "./SequenceFields";
import { SequenceTable } from "./SequenceTable";
import { StepFields } from "./StepFields";
import styles from "./emails.module.css";

interface Props {
  source: LaunchSource;
  version: number;
  mayChange: boolean;
  undoable: boolean;
  /** The instant that the screen shows. */
  asOf: Date;
  /** The person through whose eyes it is looked at, with what the clock knows of them. */
  reader: { id: string; name: string; viewer: Viewer; zone: string | null } | undefined;
  /** Hours in which nobody gets mail that goes to many. */
  quiet: QuietHours | null;
  /** Products that a sequence may count from. */
  products: readonly { id: string; name: string }[];
  /** What a condition of a step may ask for. */
  choices: FilterChoices;
  /** Which email is open, by the address. */
  open: string | undefined;
}

/** When an email goes, and what quiet hours have to do with it. */
const When = ({ at, movedFrom, stop, zone }: DatedEmail & { zone: string }) => {
  const moment = (other: Date) =>
    wallTimeOf(at, zone).slice(0, 10) === wallTimeOf(other, zone).slice(0, 10) ? clockTime(other, zone) : shortMoment(other, zone);
  return (
    <>
      {shortMoment(at, zone)}
      {movedFrom && (
        <span className={`muted ${styles.moved}`}>
          {at < movedFrom ? "before" : "after"} quiet hours, not {moment(movedFrom)}
        </span>
      )}
      {stop && <span className={`muted ${styles.moved}`}>in quiet hours, which end after the close: not sent</span>}
    </>
  );
};

/** How many came back undelivered, and how many were reported. */
const CameBack = ({ sent = 0, bounced = 0, complained = 0 }: Partial<EmailFigures>) => {
  if (bounced + complained === 0) return null;
  const share = (n: number) => `${n.toLocaleString("en")} of ${sent.toLocaleString("en")}`;
  return (
    <abbr
      title={[bounced > 0 && `${share(bounced)} could not be delivered`, complained > 0 && `${share(complained)} were reported as spam`]
        .filter(Boolean)
        .join("; ")}
    >
      {(bounced + complained).toLocaleString("en")}
    </abbr>
  );
};

const nothing: EmailFigures[] = [];
const droppedOf = ({ stopped }: Pick<EmailFigures, "stopped">): number => Object.values(stopped).reduce((sum, n) => sum + n, 0);

/** A name that nothing had before: what was sent under one that was taken away must not count as another's. */
const freshKey = (stem: string): string => `${stem}-${crypto.randomUUID().slice(0, 8)}`;

/** The emails of a launch along its bells: when each goes, to whom, what became of it, and how somebody reads it. */
export const EmailsDesk = ({ source, version, mayChange, undoable, asOf, reader, quiet, products, choices, open }: Props) => {
  const ready = useReady();
  const draft = useSettingsDraft({ source, version, mayChange, undoable, keptAs: "emails", what: "Emails changed" });
  const [chosen, setChosen] = useState(open);
  const read = useRead(readEmailFigures, { params: { slug: source.slug } }).value;
  const figures = read?.figures ?? nothing;
  const plan = useMemo(() => planOf({ ...source, settings: draft.draft }), [source, draft.draft]);
  const { names } = useMemo(() => namedBy(choices.things), [choices.things]);
  const clock = plan.clock.kind;
  const viewer = reader?.viewer ?? usualViewer(plan, asOf);
  const run = emailRun(plan, viewer, asOf, { zone: reader?.zone ?? plan.zone, quiet });
  // Of a clock that starts for nobody in particular, no instant is the present.
  const present = clock === "personal" && !reader ? undefined : asOf;
  const byEmail = new Map(figures.flatMap((one) => (one.email === null ? [] : [[one.email, one] as const])));
  const sent = new Map([...byEmail].map(([id, one]) => [id, one.sent]));
  const { emails, sequences } = draft.draft;
  const at = emails.findIndex(({ id }) => id === chosen);
  const email = emails[at];
  const inSequence = sequences.findIndex(({ id, steps }) => id === chosen || steps.some((step) => step.id === chosen));
  const sequence = sequences[inSequence];
  const atStep = sequence?.steps.findIndex(({ id }) => id === chosen) ?? -1;
  const step = sequence?.steps[atStep];
  const setSequence = (part: Partial<SequenceSetting>) => draft.set({ sequences: changed(sequences, inSequence, part) });
  const keptIds = new Set([...draft.kept.emails, ...draft.kept.sequences.flatMap(({ steps }) => steps)].map(({ id }) => id));
  const written = email ?? step;
  const choose = (id: string | undefined) => {
    setChosen(id);
    const address = new URL(location.href);
    if (id) address.searchParams.set("email", id);
    else address.searchParams.delete("email");
    history.replaceState(history.state, "", address);
  };
  const add = () => {
    const id = freshKey("email");
    const fresh: EmailSetting = {
      id,
      hangsOn: "closing",
      minutes: -180,
      time: null,
      to: "not_bought",
    };
    draft.set({ emails: [...emails, fresh] });
    choose(id);
  };
  const addSequence = () => {
    const id = freshKey("sequence");
    const first: SequenceSetting = { id, name: "New people", from: { on: "opt_in" }, untilBought: true, untilClosed: true, steps: [] };
    draft.set({ sequences: [...sequences, first] });
    choose(id);
  };
  const addStep = (index: number) => {
    const id = freshKey("step");
    const last = Math.max(0, ...sequences[index]!.steps.map(({ minutes }) => minutes));
    const { steps } = sequences[index]!;
    const fresh: StepSetting = { id, minutes: steps.length === 0 ? 60 : last + 1440, time: null, when: null };
    draft.set({ sequences: changed(sequences, index, { steps: [...steps, fresh] }) });
    choose(id);
  };
  const whole = (n: number | undefined) => (n ? n.toLocaleString("en") : "");
  const goes = ({ email: { id }, at: when }: DatedEmail) => present !== undefined && when <= present && !byEmail.has(id);
  return (
    <div className={styles.desk} inert={!ready}>
      <div>
        <p className={styles.head}>
          <span className="muted">
            {counted(emails.length, "email", "emails")} on the bells · {[...sent.values()].reduce((sum, n) => sum + n, 0).toLocaleString("en")} sent
          </span>
          {mayChange && <Button onClick={add}>Add an email</Button>}
        </p>
        {emails.length === 0 ? (
          <EmptyState
            title="Emails will stand here"
            says="They hang on the opening and the closing bell and move with them; each goes once to everybody on the list who agreed to emails."
          />
        ) : run.window === undefined ? (
          <p>No clock of theirs has started: none of these emails has a date for them.</p>
        ) : (
          <>
            <EmailRunDrawing
              run={run}
              subject={(id) => subjectOf(source, id)}
              zone={plan.zone}
              now={present}
              sent={sent}
              chosen={chosen}
              onChoose={choose}
            />
            <Table
              name="Emails on the bells"
              rows={run.emails}
              rowKey={({ email: { id } }) => id}
              columns={[
                { title: present ? "When" : "When, if it started now", whole: true, cell: (one) => <When {...one} zone={plan.zone} /> },
                {
                  title: "Subject",
                  cell: ({ email: one }) => (
                    <button type="button" className={styles.choose} aria-pressed={one.id === chosen} onClick={() => choose(one.id)}>
                      {subjectOf(source, one.id)}
                    </button>
                  ),
                },
                { title: "Hangs", aside: true, cell: ({ email: one }) => hangsWords(one, clock) },
                { title: "Recipients", aside: true, cell: ({ email: one }) => (one.to === "list" ? "the whole list" : "who has not bought") },
                {
                  title: "Sent",
                  figure: true,
                  cell: (one) => whole(byEmail.get(one.email.id)?.sent) || (goes(one) ? <span className="muted">none</span> : ""),
                },
                { title: "Bounced", figure: true, aside: true, cell: ({ email: { id } }) => <CameBack {...byEmail.get(id)} /> },
                { title: "Waiting", figure: true, aside: true, cell: ({ email: { id } }) => whole(byEmail.get(id)?.due) },
                {
                  title: "Not sent",
                  figure: true,
                  cell: ({ email: { id } }) => {
                    const one = byEmail.get(id);
                    return one && droppedOf(one) > 0 ? <abbr title={droppedWords(one.stopped)}>{whole(droppedOf(one))}</abbr> : "";
                  },
                },
              ]}
            />
          </>
        )}
        <section aria-labelledby="sequences" className={styles.personal}>
          <div className={styles.head}>
            <h2 id="sequences">Sequences</h2>
            {mayChange && <Button onClick={addSequence}>Add a sequence</Button>}
          </div>
          <p className="muted">Emails that follow a moment of each person’s own: an opt-in, a purchase, a tag.</p>
          {sequences.map((one, index) => (
            <SequenceTable
              key={one.id}
              sequence={one}
              source={source}
              products={products}
              names={names}
              people={read?.inSequences[one.id] ?? 0}
              figures={byEmail}
              chosen={chosen}
              mayChange={mayChange}
              onChoose={choose}
              onAddStep={() => addStep(index)}
            />
          ))}
        </section>
        <section aria-labelledby="personal" className={styles.personal}>
          <h2 id="personal">To one person at a time</h2>
          <p className="muted">What they asked for, paid for or left behind. These go at once, whatever else is on its way.</p>
          <Table
            name="Emails to one person"
            rows={emailKindNames
              .filter((kind) => kind !== "bell" && kind !== "step")
              .map((kind) => ({ kind, figures: figures.find((one) => one.kind === kind) }))}
            rowKey={({ kind }) => kind}
            columns={[
              {
                title: "Email",
                cell: ({ kind }) =>
                  kind === "library" ? emailKindWords[kind] : <a href={`/desk/${source.slug}/emails/${kind}`}>{emailKindWords[kind]}</a>,
              },
              { title: "Sent", figure: true, cell: ({ figures: one }) => whole(one?.sent) },
              { title: "Waiting", figure: true, cell: ({ figures: one }) => whole(one?.due) },
              { title: "Not sent", figure: true, cell: ({ figures: one }) => whole(one && droppedOf(one)) },
              { title: "Why not", aside: true, cell: ({ figures: one }) => one && droppedWords(one.stopped) },
            ]}
          />
        </section>
      </div>
      <div className={styles.side}>
        <DraftActions draft={draft} title="The emails changed" zone={plan.zone} currency={source.price.currency} mayChange={mayChange} />
        {written ? (
          <>
            {keptIds.has(written.id) ? (
              <>
                <EmailPreview
                  key={written.id}
                  slug={source.slug}
                  id={written.id}
                  version={draft.version}
                  zone={plan.zone}
                  reader={reader}
                  mayTest={mayChange}
                />
                <p>
                  <a href={`/desk/${source.slug}/emails/${written.id}`}>{mayChange ? "Write it" : "See its blocks"}</a>
                </p>
              </>
            ) : (
              <p className="muted">It is new: once it is made it can be written, and read here as somebody gets it.</p>
            )}
            {byEmail.has(written.id) && droppedOf(byEmail.get(written.id)!) > 0 && (
              <p className="muted">Not sent: {droppedWords(byEmail.get(written.id)!.stopped)}.</p>
            )}
            {mayChange && (
              <details key={`when-${written.id}`} className={styles.change} open={!keptIds.has(written.id)}>
                <summary>Change when it goes</summary>
                {email ? (
                  <EmailFields
                    email={email}
                    opening={openingWords(clock)}
                    wrong={(field) => draft.errors[`emails.${at}.${field}`]}
                    onChange={(part) => draft.set({ emails: changed(emails, at, part) })}
                  />
                ) : (
                  <StepFields
                    step={step!}
                    choices={choices}
                    wrong={(field) => draft.errors[`sequences.${inSequence}.steps.${atStep}.${field}`]}
                    onChange={(part) => setSequence({ steps: changed(sequence!.steps, atStep, part) })}
                  />
                )}
                <button
                  type="button"
                  className={styles.remove}
                  onClick={() => {
                    if (email) draft.set({ emails: without(emails, at) });
                    else setSequence({ steps: without(sequence!.steps, atStep) });
                    choose(undefined);
                  }}
                >
                  Remove this email
                </button>
              </details>
            )}
          </>
        ) : sequence ? (
          <section aria-label="The sequence" className={styles.preview}>
            <h2>{sequence.name}</h2>
            {mayChange ? (
              <>
                <SequenceFields
                  sequence={sequence}
                  products={products}
                  wrong={(field) => draft.errors[`sequences.${inSequence}.${field}`]}
                  onChange={setSequence}
                />
                <button
                  type="button"
                  className={styles.remove}
                  onClick={() => {
                    draft.set({ sequences: without(sequences, inSequence) });
                    choose(undefined);
                  }}
                >
                  Remove this sequence
                </button>
              </>
            ) : (
              <p className="muted">Owners and editors change it.</p>
            )}
          </section>
        ) : (
          emails.length > 0 && <p className="muted">Choose an email to read it as somebody gets it, and to change it.</p>
        )}
      </div>
    </div>
  );
};
