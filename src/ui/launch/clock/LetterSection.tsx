import { lengthWords, type LetterSetting } from "../../../core/launch";
import { Button } from "../../kit/Button";
import { DurationField } from "../../kit/fields/DurationField";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { changed, freshId, without, type ClockDraft } from "./clockDraft";
import styles from "./Clock.module.css";

/** Letters that hang on a bell and move with it. */
export const LetterSection = ({ draft }: { draft: ClockDraft }) => {
  const { letters, clock } = draft.settings;
  const set = (index: number, change: Partial<LetterSetting>) => draft.set({ letters: changed(letters, index, change) });
  const opening = clock.kind === "personal" ? "the start of their clock" : "the opening bell";
  return (
    <section className={styles.section} aria-labelledby="letters">
      <h2 id="letters">Letters on the bells</h2>
      <p className="muted">
        They go to people of this launch’s list who said yes to letters, once to each, with their own countdown and a link that knows them. None goes
        after the doors have closed that was meant to go before.
      </p>
      {letters.map((letter, index) => {
        const away = Math.abs(letter.minutes);
        return (
          <details key={letter.id} className={styles.item}>
            <summary>
              {letter.subject} · {letter.minutes === 0 ? "at" : `${lengthWords(away)} ${letter.minutes < 0 ? "before" : "after"}`}{" "}
              {letter.hangsOn === "opening" ? opening : "the closing bell"}
            </summary>
            <div className={styles.four}>
              <Select
                label="Hangs on"
                value={letter.hangsOn}
                options={[
                  { value: "opening", label: opening },
                  { value: "closing", label: "the closing bell" },
                ]}
                onChange={(event) => set(index, { hangsOn: event.currentTarget.value as LetterSetting["hangsOn"] })}
              />
              <Select
                label="Goes"
                value={letter.minutes < 0 ? "before" : "after"}
                options={[
                  { value: "before", label: "before it" },
                  { value: "after", label: "at it or after" },
                ]}
                onChange={(event) => set(index, { minutes: event.currentTarget.value === "before" ? -(away || 60) : away })}
              />
              <DurationField
                label="By"
                minutes={away}
                wrong={draft.wrong(`letters.${index}.minutes`)}
                onChange={(minutes) => set(index, { minutes: letter.minutes < 0 ? -minutes : minutes })}
              />
              <Select
                label="To"
                value={letter.to}
                options={[
                  { value: "list", label: "everyone on the list" },
                  { value: "not_bought", label: "those who have not bought" },
                ]}
                onChange={(event) => set(index, { to: event.currentTarget.value as LetterSetting["to"] })}
              />
            </div>
            <Field
              label="Subject"
              value={letter.subject}
              wrong={draft.wrong(`letters.${index}.subject`)}
              onChange={(event) => set(index, { subject: event.currentTarget.value })}
            />
            <Field
              label="Text"
              rows={5}
              value={letter.text}
              wrong={draft.wrong(`letters.${index}.text`)}
              onChange={(event) => set(index, { text: event.currentTarget.value })}
            />
            <button type="button" className={styles.remove} onClick={() => draft.set({ letters: without(letters, index) })}>
              Take this letter out
            </button>
          </details>
        );
      })}
      <p className={styles.actions}>
        <Button
          onClick={() =>
            draft.set({
              letters: [
                ...letters,
                {
                  id: freshId(letters, "letter"),
                  hangsOn: "closing",
                  minutes: -180,
                  to: "not_bought",
                  subject: "A few hours left",
                  text: "Say what it is about.",
                },
              ],
            })
          }
        >
          Add a letter
        </Button>
      </p>
    </section>
  );
};
