import { useMemo, useState } from "react";
import { addOneOff, listOneOffs, readEmailFigures, type EmailFigures } from "../../contract/emails";
import { listFilters, type SavedFilter } from "../../contract/people";
import { namedBy } from "../../core/conditions";
import { emailKindNames, emailKindWords, emailRun, isHung, sequenceLanes, usualViewer, type QuietHours } from "../../core/emails";
import { planOf, subjectOf, type EmailSetting, type LaunchSource, type SequenceSetting, type StepSetting, type Viewer } from "../../core/launch";
import { counted } from "../../core/words";
import { Button } from "../kit/Button";
import { useRead } from "../kit/data/useRead";
import { useReady } from "../kit/data/useReady";
import { EmptyState } from "../kit/EmptyState";
import { Table } from "../kit/Table";
import { DraftActions } from "../launch/DraftActions";
import { changed, without } from "../launch/clock/clockDraft";
import { useSettingsDraft } from "../launch/useSettingsDraft";
import type { FilterChoices } from "../people/filter/RowDetails";
import { BellEmailsTable } from "./BellEmailsTable";
import { drawable } from "./drawable";
import { EmailFields } from "./EmailFields";
import { EmailPreview } from "./EmailPreview";
import { EmailRunDrawing } from "./EmailRunDrawing";
import { call } from "../kit/data/call";
import { say } from "../kit/notices";
import { MovedClosing } from "./oneOff/MovedClosing";
import { OneOffPane } from "./oneOff/OneOffPane";
import { OneOffTable } from "./oneOff/OneOffTable";
import { EmailLinks } from "./figures/EmailLinks";
import { droppedOf, droppedWords, openingWords } from "./emailWords";
import { FigureNote, figureColumns } from "./figures/figureColumns";
import { SequenceFields } from "./SequenceFields";
import { SequenceTable } from "./SequenceTable";
import { VersionFigures } from "./figures/VersionFigures";
import { SenderFields } from "./SenderFields";
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
  reader: { id: string; name: string; viewer: Viewer; zone: string | null; moments: Readonly<Record<string, Date>> } | undefined;
  /** What the vendor's emails carry, where the launch has no sender of its own. */
  sender: { name: string; address: string };
  /** Hours in which nobody gets mail that goes to many. */
  quiet: QuietHours | null;
  /** Products that a sequence may count from. */
  products: readonly { id: string; name: string }[];
  /** What a condition of a step may ask for. */
  choices: FilterChoices;
  /** Where this installation is reached from outside. */
  origin: string;
  /** Which email is open, by the address. */
  open: string | undefined;
}

const nothing: EmailFigures[] = [];

/** A name that nothing had before: what was sent under one that was taken away must not count as another's. */
const freshKey = (stem: string): string => `${stem}-${crypto.randomUUID().slice(0, 8)}`;

/** The emails of a launch along its bells: when each goes, to whom, what became of it, and how somebody reads it. */
export const EmailsDesk = ({ source, version, mayChange, undoable, asOf, reader, sender, quiet, products, choices, origin, open }: Props) => {
  const ready = useReady();
  const draft = useSettingsDraft({ source, version, mayChange, undoable, keptAs: "emails", what: "Emails changed" });
  const [chosen, setChosen] = useState(open);
  const params = { slug: source.slug };
  const { value: read, again: readFigures } = useRead(readEmailFigures, { params }, { everyMs: () => 15_000 });
  const { value: listed, again: readOneOffs } = useRead(listOneOffs, { params }, { everyMs: () => 15_000 });
  const filters: readonly SavedFilter[] = useRead(listFilters, {}).value?.filters ?? [];
  const oneOffs = listed?.oneOffs ?? [];
  const oneOff = oneOffs.find(({ id }) => id === chosen);
  const readAgain = () => {
    readOneOffs();
    readFigures();
  };
  const figures = read?.figures ?? nothing;
  const plan = useMemo(() => planOf({ ...source, settings: drawable(draft.draft) }), [source, draft.draft]);
  const { names } = useMemo(() => namedBy(choices.things), [choices.things]);
  const clock = plan.clock.kind;
  const viewer = reader?.viewer ?? usualViewer(plan, asOf);
  const zone = reader?.zone ?? plan.zone;
  const run = emailRun(plan, viewer, asOf, { zone, quiet });
  // Of a clock that starts for nobody in particular, no instant is the present.
  const present = clock === "personal" && !reader ? undefined : asOf;
  const lanes = sequenceLanes(
    plan.settings.sequences,
    read?.steps ?? [],
    reader ? { moments: reader.moments, zone } : clock === "personal" ? { moment: asOf, zone } : undefined,
  );
  const byEmail = new Map(figures.flatMap((one) => (one.email === null ? [] : [[one.email, one] as const])));
  const sent = new Map([...byEmail].map(([id, one]) => [id, one.sent]));
  const { emails, sequences } = draft.draft;
  const inSequences = sequences.reduce((sum, { steps }) => sum + steps.length, 0);
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
  const beginOneOff = async () => {
    const answer = await call(addOneOff, { params, request: { about: null } });
    if (!answer.ok) return say(answer.message, true);
    readOneOffs();
    choose(answer.value.id);
  };
  const addStep = (index: number) => {
    const id = freshKey("step");
    const last = Math.max(0, ...sequences[index]!.steps.map(({ minutes }) => minutes));
    const { steps } = sequences[index]!;
    const fresh: StepSetting = { id, minutes: steps.length === 0 ? 60 : last + 1440, time: null, when: null };
    draft.set({ sequences: changed(sequences, index, { steps: [...steps, fresh] }) });
    choose(id);
  };
  return (
    <div className={styles.desk} inert={!ready}>
      <div>
        <p className={styles.head}>
          <span className="muted">
            {counted(emails.length, "email", "emails")} on the bells
            {inSequences > 0 && `, ${inSequences.toLocaleString("en")} in sequences`} ·{" "}
            {[...sent.values()].reduce((sum, n) => sum + n, 0).toLocaleString("en")} sent
          </span>
          {mayChange && <Button onClick={add}>Add an email</Button>}
        </p>
        <MovedClosing
          slug={source.slug}
          zone={plan.zone}
          mayChange={mayChange}
          version={draft.version}
          onBegun={(id) => {
            readAgain();
            choose(id);
            say("An email to just them is begun. Read it, publish it, and send it.");
          }}
        />
        <SenderFields
          sender={draft.draft.sender}
          vendor={sender}
          mayChange={mayChange}
          wrong={(field) => draft.errors[field]}
          onChange={(next) => draft.set({ sender: next })}
        />
        {emails.length === 0 && lanes.length === 0 ? (
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
              lanes={lanes}
              chosen={chosen}
              onChoose={choose}
            />
            {run.emails.length > 0 && (
              <BellEmailsTable run={run} source={source} zone={plan.zone} present={present} figures={byEmail} chosen={chosen} onChoose={choose} />
            )}
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
              people={read?.inSequences[one.id] ?? { taken: 0, underWay: 0 }}
              figures={byEmail}
              chosen={chosen}
              mayChange={mayChange}
              onChoose={choose}
              onAddStep={() => addStep(index)}
            />
          ))}
        </section>
        <OneOffTable
          oneOffs={oneOffs}
          source={source}
          filters={filters}
          figures={byEmail}
          chosen={chosen}
          mayChange={mayChange}
          onChoose={choose}
          onAdd={() => void beginOneOff()}
        />
        <section aria-labelledby="personal" className={styles.personal}>
          <h2 id="personal">To one person at a time</h2>
          <p className="muted">What they asked for, paid for or left behind. These go at once, whatever else is on its way.</p>
          <Table
            name="Emails to one person"
            rows={emailKindNames.filter((kind) => !isHung(kind)).map((kind) => ({ kind, figures: figures.find((one) => one.kind === kind) }))}
            rowKey={({ kind }) => kind}
            columns={[
              {
                title: "Email",
                cell: ({ kind }) =>
                  kind === "library" ? emailKindWords[kind] : <a href={`/desk/${source.slug}/emails/${kind}`}>{emailKindWords[kind]}</a>,
              },
              ...figureColumns<{ figures: EmailFigures | undefined }>((row) => row.figures, source.price.currency),
            ]}
          />
          <FigureNote />
        </section>
      </div>
      <div className={styles.side}>
        <DraftActions draft={draft} title="The emails changed" zone={plan.zone} currency={source.price.currency} mayChange={mayChange} />
        {oneOff ? (
          <>
            <EmailPreview
              key={oneOff.id}
              slug={source.slug}
              id={oneOff.id}
              version={draft.version}
              zone={plan.zone}
              reader={reader}
              mayTest={mayChange}
            />
            <p>
              <a href={`/desk/${source.slug}/emails/${oneOff.id}`}>{mayChange && oneOff.state === "draft" ? "Write it" : "See its blocks"}</a>
            </p>
            {byEmail.has(oneOff.id) && (
              <EmailLinks key={`links-${oneOff.id}`} slug={source.slug} id={oneOff.id} email={byEmail.get(oneOff.id)!.ref} />
            )}
            <VersionFigures variants={read?.variants.filter(({ key }) => key === oneOff.id) ?? []} source={source} />
            <OneOffPane
              key={`goes-${oneOff.id}-${oneOff.state}`}
              slug={source.slug}
              oneOff={oneOff}
              figures={byEmail.get(oneOff.id)}
              zone={plan.zone}
              choices={choices}
              filters={filters}
              mayChange={mayChange}
              onChanged={readAgain}
              onRemoved={() => choose(undefined)}
            />
          </>
        ) : written ? (
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
            {byEmail.has(written.id) && (
              <EmailLinks key={`links-${written.id}`} slug={source.slug} id={written.id} email={byEmail.get(written.id)!.ref} />
            )}
            <VersionFigures variants={read?.variants.filter(({ key }) => key === written.id) ?? []} source={source} />
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
                  launch={{ slug: source.slug, origin, personal: clock === "personal" }}
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
