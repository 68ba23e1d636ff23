import { useState } from "react";
import { countRecipients, holdOneOff, listOneOffs, removeOneOff, saveOneOff, scheduleOneOff, type EmailFigures } from "../../../contract/emails";
import type { AnswerOf } from "../../../contract/endpoint";
import type { SavedFilter } from "../../../contract/people";
import { counted, shortMoment, zoneCity } from "../../../core/words";
import { Button } from "../../kit/Button";
import { call } from "../../kit/data/call";
import { useRead } from "../../kit/data/useRead";
import { Dialog } from "../../kit/Dialog";
import { DateTimeField } from "../../kit/fields/DateTimeField";
import { Select } from "../../kit/fields/Select";
import { say } from "../../kit/notices";
import { RecordStatus } from "../../kit/record/RecordStatus";
import { useRecord } from "../../kit/record/useRecord";
import { PeopleFilter } from "../../people/filter/PeopleFilter";
import type { FilterChoices } from "../../people/filter/RowDetails";
import { filterOptions, toWhom } from "./recipientWords";
import styles from "../emails.module.css";

export type OneOff = AnswerOf<typeof listOneOffs>["oneOffs"][number];

type Recipients = AnswerOf<typeof countRecipients>;

/** Why some of those who are asked for get nothing: `12 unsubscribed, 3 gave no consent`. */
const excludedWords = ({ noConsent, unsubscribed, suppressed, launchLeft }: Recipients): string =>
  [
    unsubscribed > 0 && `${unsubscribed.toLocaleString("en")} unsubscribed`,
    noConsent > 0 && `${noConsent.toLocaleString("en")} gave no consent`,
    suppressed > 0 && `${suppressed.toLocaleString("en")} cannot be reached or reported an email`,
    launchLeft > 0 && `${launchLeft.toLocaleString("en")} want nothing of this launch`,
  ]
    .filter(Boolean)
    .join(", ");

const people = (n: number) => counted(n, "person", "people");

/** When an email goes that goes once, in words. */
export const oneOffWhen = ({ wall, byZone, at, state }: Pick<OneOff, "wall" | "byZone" | "at" | "state">, zone: string): string => {
  const draft = state === "draft";
  if (!wall) return draft ? "when it is sent" : shortMoment(at!, zone);
  const typed = wall.replace("T", ", ");
  if (byZone) return `${typed} in each reader’s zone`;
  return draft ? `${typed} ${zoneCity(zone)}` : shortMoment(at!, zone);
};

/** How far it is, in a word. */
export const oneOffState = ({ state, allQueued }: Pick<OneOff, "state" | "allQueued">, due: number): string =>
  state === "sending" && allQueued && due === 0 ? "sent" : state === "sending" ? "going out" : state === "cancelled" ? "called off" : state;

interface Props {
  slug: string;
  oneOff: OneOff;
  figures: EmailFigures | undefined;
  zone: string;
  choices: FilterChoices;
  filters: readonly SavedFilter[];
  mayChange: boolean;
  /** Something of it was changed: the list is read anew. */
  onChanged: () => void;
  onRemoved: () => void;
}

/** To whom and when an email goes that goes once; how many that are; and how it is held while it goes out. */
export const OneOffPane = ({ slug, oneOff, figures, zone, choices, filters, mayChange, onChanged, onRemoved }: Props) => {
  const { id, state } = oneOff;
  const params = { slug, id };
  const [asks, setAsks] = useState(false);
  const record = useRecord({
    first: { who: oneOff.who, wall: oneOff.wall, byZone: oneOff.byZone },
    version: oneOff.version,
    whole: ({ wall }) => wall !== "",
    save: async (content, version) => {
      const answer = await call(saveOneOff, { params, request: { ...content, version } });
      if (answer.ok) onChanged();
      return answer;
    },
  });
  const { who, wall, byZone } = record.content;
  const { value: recipients } = useRead(countRecipients, { params: { slug }, request: { who } });
  const due = figures?.due ?? 0;
  const goes = recipients?.recipients ?? 0;
  const act = async (
    run: () => Promise<{ ok: true } | { ok: false; message: string; fields: Record<string, string> }>,
    done: string,
    removed = false,
  ) => {
    setAsks(false);
    const answer = await run();
    if (!answer.ok) return say(Object.values(answer.fields)[0] ?? answer.message, true);
    say(done);
    if (removed) onRemoved();
    onChanged();
  };
  const hold = (to: "pause" | "resume" | "cancel", done: string) => void act(() => call(holdOneOff, { params, request: { to } }), done);
  const readTheirs = async () => {
    const answer = await call(listOneOffs, { params: { slug } });
    const theirs = answer.ok ? answer.value.oneOffs.find((one) => one.id === id) : undefined;
    if (!answer.ok) say(answer.message, true);
    return theirs && { content: { who: theirs.who, wall: theirs.wall, byZone: theirs.byZone }, version: theirs.version };
  };
  if (state !== "draft")
    return (
      <section aria-label="How it goes out" className={styles.goes}>
        <p>
          <b>{oneOffState(oneOff, due)}</b>, {oneOffWhen(oneOff, zone)}: to {toWhom(oneOff.who, filters)}.
        </p>
        {(figures?.sent ?? 0) + due > 0 && (
          <p>
            <progress max={(figures?.sent ?? 0) + due} value={figures?.sent ?? 0} aria-label="Sent so far" /> {figures?.sent.toLocaleString("en")}{" "}
            sent, {due.toLocaleString("en")} to go
          </p>
        )}
        {mayChange && state !== "cancelled" && oneOffState(oneOff, due) !== "sent" && (
          <p className={styles.acts}>
            {state === "paused" ? (
              <Button main onClick={() => hold("resume", "It goes on.")}>
                Let it go on
              </Button>
            ) : (
              <Button onClick={() => hold("pause", "Paused: nobody else gets it until you let it go on.")}>Pause</Button>
            )}
            <Button destructive onClick={() => setAsks(true)}>
              Call it off
            </Button>
          </p>
        )}
        {asks && (
          <Dialog
            title="Call this email off"
            confirm={due > 0 ? `Drop it for ${people(due)}` : "Call it off"}
            destructive
            onClose={() => setAsks(false)}
            onConfirm={() => hold("cancel", "Called off.")}
          >
            <p>{(figures?.sent ?? 0) > 0 ? `${people(figures!.sent)} have it already. ` : ""}It cannot be begun again.</p>
          </Dialog>
        )}
      </section>
    );
  const when = wall === null ? "now" : byZone ? "zones" : "at";
  return (
    <section aria-label="Whom it goes to, and when" className={styles.goes} inert={!mayChange}>
      <RecordStatus record={record} untouched="Kept as it is chosen." readTheirs={readTheirs} />
      <h3>Recipients</h3>
      {filters.length > 0 && (
        <Select
          label="Saved filter"
          value={who}
          options={filterOptions(who, filters)}
          onChange={(next) => record.change((content) => ({ ...content, who: next }))}
        />
      )}
      <PeopleFilter
        who={who}
        choices={choices}
        begin="Only to some of them"
        onChange={(next) => record.change((content) => ({ ...content, who: next }))}
      />
      {record.fields["who"] && <p role="alert">{record.fields["who"]}</p>}
      {recipients && (
        <p>
          <b>{people(goes)}</b> would get it now
          {who === "" ? ": everybody who may be written to" : `, of ${recipients.people.toLocaleString("en")} found`}.
          {excludedWords(recipients) && <span className={styles.under}>Not to others: {excludedWords(recipients)}.</span>}
        </p>
      )}
      <Select
        label="When"
        value={when}
        options={[
          { value: "now", label: "as soon as I send it" },
          { value: "at", label: "at a moment, for all at once" },
          { value: "zones", label: "at a time of day in each reader’s zone" },
        ]}
        onChange={(next) =>
          record.change((content) => ({ ...content, wall: next === "now" ? null : (content.wall ?? ""), byZone: next === "zones" }))
        }
      />
      {wall !== null && (
        <DateTimeField
          label={byZone ? "Date and time, by their clock" : "Moment"}
          value={wall}
          zone={zone}
          wrong={record.fields["wall"]}
          onChange={(next) => record.change((content) => ({ ...content, wall: next }))}
        />
      )}
      {mayChange && (
        <p className={styles.acts}>
          <Button main disabled={record.status !== "saved" || goes === 0} onClick={() => setAsks(true)}>
            {when === "now" ? `Send to ${people(goes)}` : `Schedule for ${people(goes)}`}
          </Button>
          <button type="button" className={styles.remove} onClick={() => void act(() => call(removeOneOff, { params }), "Removed.", true)}>
            Remove it
          </button>
        </p>
      )}
      {asks && (
        <Dialog
          title={when === "now" ? "Send this email" : "Schedule this email"}
          confirm={when === "now" ? `Send it to ${people(goes)}` : `Schedule it for ${people(goes)}`}
          onClose={() => setAsks(false)}
          onConfirm={() =>
            void act(() => call(scheduleOneOff, { params, request: { version: record.version } }), when === "now" ? "On its way." : "Scheduled.")
          }
        >
          <p>
            It goes {when === "now" ? "at once" : oneOffWhen({ ...oneOff, wall, byZone }, zone)}, to those who are found when it begins. Quiet hours
            and the most emails in a day hold for it. While it goes out it can be paused; what has been sent is sent.
          </p>
        </Dialog>
      )}
    </section>
  );
};
