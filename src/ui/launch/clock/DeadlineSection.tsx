import { deadlineOf, partsOf, recurrenceRefusal, recurrenceWords, ruleOf, wallTimeOf, type ClockSettings, type Trigger } from "../../../core/launch";
import { fullMoment, lengthWords, zoneCity } from "../../../core/words";
import { DateTimeField, TimeField } from "../../kit/fields/DateTimeField";
import { DurationField } from "../../kit/fields/DurationField";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { pageName, type ClockDraft } from "./clockDraft";
import { NextOpenings, RepeatFields } from "./RepeatFields";
import styles from "./Clock.module.css";

const Fixed = ({ clock, draft }: { clock: Extract<ClockSettings, { kind: "fixed" }>; draft: ClockDraft }) => {
  const field = (name: "runUp" | "opens" | "closes", label: string) => (
    <DateTimeField
      label={label}
      value={clock[name]}
      zone={draft.zone}
      landmarks={draft.landmarks}
      wrong={draft.wrong(`clock.${name}`)}
      onChange={(wall) => draft.set({ clock: { ...clock, [name]: wall } })}
    />
  );
  return (
    <div className={styles.three}>
      {field("runUp", "Run-up begins")}
      {field("opens", "Doors open")}
      {field("closes", "Doors close")}
    </div>
  );
};

const Recurring = ({ clock, draft }: { clock: Extract<ClockSettings, { kind: "recurring" }>; draft: ClockDraft }) => {
  const parts = partsOf(clock.rule);
  const recurrence = { ...clock, zone: draft.zone };
  return (
    <>
      <div className={styles.two}>
        <DateTimeField
          label="Doors open first"
          value={clock.first}
          zone={draft.zone}
          wrong={draft.wrong("clock.first")}
          onChange={(first) => {
            // The day of the month and the weekday of a month are those of the first opening.
            draft.set({ clock: { ...clock, first, rule: parts && first ? ruleOf(parts, first) : clock.rule } });
          }}
        />
        <DurationField
          label="Stay open for"
          minutes={clock.lengthMinutes}
          wrong={draft.wrong("clock.lengthMinutes")}
          onChange={(lengthMinutes) => draft.set({ clock: { ...clock, lengthMinutes } })}
        />
      </div>
      {parts && (
        <RepeatFields
          parts={parts}
          wrong={draft.wrong("clock.every")}
          onChange={(next) => draft.set({ clock: { ...clock, rule: ruleOf(next, clock.first) } })}
        />
      )}
      <Field
        label="Recurrence rule, RFC 5545"
        value={clock.rule}
        wrong={draft.wrong("clock.rule")}
        hint={recurrenceRefusal(recurrence) ? undefined : `In words: ${recurrenceWords(recurrence)}.`}
        onChange={(event) => draft.set({ clock: { ...clock, rule: event.currentTarget.value.toUpperCase() } })}
      />
      <NextOpenings {...recurrence} now={draft.now} />
    </>
  );
};

const Personal = ({ clock, draft }: { clock: Extract<ClockSettings, { kind: "personal" }>; draft: ClockDraft }) => {
  const set = (change: Partial<typeof clock>) => draft.set({ clock: { ...clock, ...change } });
  const forms = draft.pages.filter(({ kind }) => kind === "optin" || kind === "closed");
  const { trigger, length, rearm } = clock;
  const example = length.minutes > 0 ? deadlineOf(length, draft.zone, new Date(draft.now)) : undefined;
  const setTrigger = (on: Trigger["on"]) =>
    set({ trigger: on === "opt_in" ? { on, page: null } : on === "page" ? { on, page: draft.pages[0]!.key } : { on } });
  return (
    <>
      <div className={styles.two}>
        <Select
          label="A person’s clock starts"
          value={trigger.on}
          options={[
            { value: "opt_in", label: "when they join the list" },
            { value: "first_visit", label: "at their first visit" },
            { value: "page", label: "at a visit to a chosen page" },
            { value: "webhook", label: "when another tool says so, by a signed notice" },
          ]}
          onChange={(picked) => setTrigger(picked)}
        />
        {trigger.on === "opt_in" && (
          <Select
            label="Opt-in form on"
            value={trigger.page ?? ""}
            options={[{ value: "", label: "any page" }, ...forms.map((page) => ({ value: page.key, label: pageName(page, draft.pages) }))]}
            onChange={(picked) => set({ trigger: { on: "opt_in", page: picked || null } })}
          />
        )}
        {trigger.on === "page" && (
          <Select
            label="The page"
            value={trigger.page}
            wrong={draft.wrong("clock.trigger.page")}
            options={draft.pages.map((page) => ({ value: page.key, label: pageName(page, draft.pages) }))}
            onChange={(picked) => set({ trigger: { on: "page", page: picked } })}
          />
        )}
      </div>
      <div className={styles.two}>
        <DurationField
          label={length.kind === "exact" ? "Each person has" : "Each person has at least"}
          minutes={length.minutes}
          wrong={draft.wrong("clock.length.minutes")}
          onChange={(minutes) => set({ length: { ...length, minutes } })}
        />
        <TimeField
          label="Then until the next"
          value={length.kind === "until" ? length.time : ""}
          wrong={draft.wrong("clock.length.time")}
          hint="Empty: to the second, so long after the start."
          onChange={(time) => {
            set({ length: time ? { kind: "until", minutes: length.minutes, time } : { kind: "exact", minutes: length.minutes } });
          }}
        />
      </div>
      {example && (
        <p className="muted" data-example>
          Who starts now has until {fullMoment(example, draft.zone)}, {zoneCity(draft.zone)} time.
        </p>
      )}
      <div className={styles.two}>
        <Select
          label="Restarts"
          value={rearm ? "yes" : "no"}
          options={[
            { value: "no", label: "never" },
            { value: "yes", label: "after a rest" },
          ]}
          onChange={(picked) => set({ rearm: picked === "yes" ? { restMinutes: 30 * 1440, times: 1 } : null })}
        />
        {rearm && (
          <div className={styles.two}>
            <DurationField
              label="Pause before a restart"
              minutes={rearm.restMinutes}
              wrong={draft.wrong("clock.rearm.restMinutes")}
              onChange={(restMinutes) => set({ rearm: { ...rearm, restMinutes } })}
            />
            <Field
              label="Restarts at most"
              type="number"
              min={1}
              value={rearm.times}
              wrong={draft.wrong("clock.rearm.times")}
              onChange={(event) => set({ rearm: { ...rearm, times: Number(event.currentTarget.value) } })}
            />
          </div>
        )}
      </div>
      <p className="muted">
        Known by a signed link, then by what an earlier link left, then by the visitor’s cookie. A clock that runs is never started anew; of two that
        prove to be one person’s, the earlier start holds. Another address, one with a plus in it among them, is another person until then.
      </p>
      {(trigger.on === "first_visit" || trigger.on === "page") && (
        <p className="muted">
          Whoever clears their cookies before they have given an address comes as somebody new, and gets a new clock. Started by joining the list, it
          cannot be renewed so.
        </p>
      )}
    </>
  );
};

/** The clock itself: dates, a rule, or a time for each person. */
export const DeadlineSection = ({ draft }: { draft: ClockDraft }) => {
  const { clock } = draft.settings;
  const today = wallTimeOf(new Date(draft.now + 7 * 86_400_000), draft.zone).slice(0, 10);
  const start = clock.kind === "fixed" ? clock.opens : clock.kind === "recurring" ? clock.first : `${today}T10:00`;
  const turn = (kind: ClockSettings["kind"]) => {
    if (kind === clock.kind) return;
    const clocks: Record<ClockSettings["kind"], ClockSettings> = {
      fixed: { kind: "fixed", runUp: start, opens: start, closes: start },
      recurring: { kind: "recurring", first: start, rule: ruleOf({ every: 1, unit: "week", days: [], times: null }, start), lengthMinutes: 3 * 1440 },
      personal: { kind: "personal", trigger: { on: "opt_in", page: null }, length: { kind: "exact", minutes: 3 * 1440 }, rearm: null },
    };
    draft.set({ clock: clocks[kind], ...(kind === "fixed" ? {} : { prices: [] }) });
  };
  return (
    <section className={styles.section} aria-labelledby="deadline">
      <h2 id="deadline">Deadline</h2>
      <Select
        label="Timing"
        value={clock.kind}
        options={[
          { value: "fixed", label: "Once, on dates for everyone" },
          { value: "recurring", label: "Recurring, for everyone" },
          { value: "personal", label: "Always on, a clock for each person" },
        ]}
        onChange={(picked) => turn(picked)}
      />
      {clock.kind === "fixed" && <Fixed clock={clock} draft={draft} />}
      {clock.kind === "recurring" && <Recurring clock={clock} draft={draft} />}
      {clock.kind === "personal" && <Personal clock={clock} draft={draft} />}
      <div className={styles.two}>
        <DurationField
          label="Grace time for checkouts"
          minutes={draft.settings.graceMinutes}
          wrong={draft.wrong("graceMinutes")}
          hint={
            draft.settings.graceMinutes > 0 ? `${lengthWords(draft.settings.graceMinutes)} after the closing bell.` : "No grace: the bell ends it."
          }
          onChange={(graceMinutes) => draft.set({ graceMinutes })}
        />
      </div>
    </section>
  );
};
