import { countdownForms, stageLooks, type CountdownForm, type CountdownSetting, type StageSetting } from "../../../core/launch";
import { Button } from "../../kit/Button";
import { DurationField } from "../../kit/fields/DurationField";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { changed, freshId, without, type ClockDraft } from "./clockDraft";
import { CoverageField } from "./CoverageField";
import styles from "./Clock.module.css";

const forms: Record<CountdownForm, string> = {
  bar_top: "a bar at the top",
  bar_bottom: "a bar at the bottom, always in sight",
  inline: "a line below the headline",
  card: "a card beside the text",
};
const looks: Record<(typeof stageLooks)[number], string> = { quiet: "quiet", firm: "firm", loud: "loud" };

/** Countdowns: which pages carry which, from when to when, and how they look towards the end. */
export const CountdownSection = ({ draft }: { draft: ClockDraft }) => {
  const { countdowns, stages } = draft.settings;
  const set = (index: number, change: Partial<CountdownSetting>) => draft.set({ countdowns: changed(countdowns, index, change) });
  const setStage = (index: number, change: Partial<StageSetting>) => draft.set({ stages: changed(stages, index, change) });
  return (
    <section className={styles.section} aria-labelledby="countdowns">
      <h2 id="countdowns">Countdowns</h2>
      <p className="muted">All of them show the same instant, kept by the server: on pages, at the checkout, in emails and pictures.</p>
      {countdowns.map((countdown, index) => (
        <div key={countdown.id} className={styles.item}>
          <div className={styles.two}>
            <Select
              label="Position"
              value={countdown.form}
              options={countdownForms.map((form) => ({ value: form, label: forms[form] }))}
              onChange={(picked) => set(index, { form: picked })}
            />
            <Select
              label="Counts down to"
              value={countdown.to.join()}
              options={[
                { value: "opening,closing", label: "the opening, then the closing" },
                { value: "closing", label: "the closing" },
                { value: "opening", label: "the opening" },
              ]}
              onChange={(picked) => set(index, { to: picked.split(",") as CountdownSetting["to"] })}
            />
          </div>
          <CoverageField
            label="Pages"
            value={countdown.covers}
            pages={draft.pages}
            wrong={draft.wrong(`countdowns.${index}.covers`)}
            onChange={(coverage) => set(index, { covers: coverage })}
          />
          <div className={styles.three}>
            <Select
              label="Appears"
              value={countdown.fromMinutes === null ? "start" : "before"}
              options={[
                { value: "start", label: "from the start" },
                { value: "before", label: "before the bell" },
              ]}
              onChange={(picked) => set(index, { fromMinutes: picked === "start" ? null : 1440 })}
            />
            {countdown.fromMinutes !== null && (
              <DurationField
                label="How long before"
                minutes={countdown.fromMinutes}
                wrong={draft.wrong(`countdowns.${index}.fromMinutes`)}
                onChange={(fromMinutes) => set(index, { fromMinutes })}
              />
            )}
            <DurationField
              label="Disappears before the bell, by"
              minutes={countdown.untilMinutes}
              wrong={draft.wrong(`countdowns.${index}.untilMinutes`)}
              hint={countdown.untilMinutes === 0 ? "It stays to the end." : undefined}
              onChange={(untilMinutes) => set(index, { untilMinutes })}
            />
          </div>
          <button type="button" className={styles.remove} onClick={() => draft.set({ countdowns: without(countdowns, index) })}>
            Remove this countdown
          </button>
        </div>
      ))}
      <p className={styles.actions}>
        <Button
          onClick={() =>
            draft.set({
              countdowns: [
                ...countdowns,
                {
                  id: freshId(countdowns, "countdown"),
                  form: "inline",
                  covers: { mode: "only", pages: [], folders: [] },
                  to: ["closing"],
                  fromMinutes: null,
                  untilMinutes: 0,
                },
              ],
            })
          }
        >
          Add a countdown
        </Button>
      </p>
      <h3 id="stages">Urgent looks</h3>
      {stages.map((stage, index) => (
        <div key={stage.id} className={`${styles.item} ${styles.three}`} style={{ gridTemplateColumns: "1.2fr 0.8fr 1fr" }}>
          <DurationField
            label="Starts before the closing bell, by"
            minutes={stage.minutes}
            wrong={draft.wrong(`stages.${index}.minutes`)}
            onChange={(minutes) => setStage(index, { minutes })}
          />
          <Select
            label="Look"
            value={stage.look}
            options={stageLooks.map((look) => ({ value: look, label: looks[look] }))}
            onChange={(picked) => setStage(index, { look: picked })}
          />
          <Field
            label="Text"
            value={stage.words}
            wrong={draft.wrong(`stages.${index}.words`)}
            onChange={(event) => setStage(index, { words: event.currentTarget.value })}
          />
          <button type="button" className={styles.remove} onClick={() => draft.set({ stages: without(stages, index) })}>
            Remove this look
          </button>
        </div>
      ))}
      <p className={styles.actions}>
        <Button
          onClick={() => draft.set({ stages: [...stages, { id: freshId(stages, "stage"), minutes: 180, look: "firm", words: "A few hours" }] })}
        >
          Add an urgent look
        </Button>
      </p>
    </section>
  );
};
