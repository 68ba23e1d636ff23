import { type EmailSetting } from "../../../core/launch";
import { lengthWords } from "../../../core/words";
import { Button } from "../../kit/Button";
import { DurationField } from "../../kit/fields/DurationField";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { changed, freshId, without, type ClockDraft } from "./clockDraft";
import styles from "./Clock.module.css";

/** Emails that hang on a bell and move with it. */
export const EmailSection = ({ draft }: { draft: ClockDraft }) => {
  const { emails, clock } = draft.settings;
  const set = (index: number, change: Partial<EmailSetting>) => draft.set({ emails: changed(emails, index, change) });
  const opening = clock.kind === "personal" ? "the start of their clock" : "the opening bell";
  return (
    <section className={styles.section} aria-labelledby="emails">
      <h2 id="emails">Emails on the bells</h2>
      <p className="muted">
        They go to people of this launch’s list who said yes to emails, once to each, with their own countdown and a link that knows them. None goes
        after the doors have closed that was meant to go before.
      </p>
      {emails.map((email, index) => {
        const away = Math.abs(email.minutes);
        return (
          <details key={email.id} className={styles.item}>
            <summary>
              {email.subject} · {email.minutes === 0 ? "at" : `${lengthWords(away)} ${email.minutes < 0 ? "before" : "after"}`}{" "}
              {email.hangsOn === "opening" ? opening : "the closing bell"}
            </summary>
            <div className={styles.four}>
              <Select
                label="Relative to"
                value={email.hangsOn}
                options={[
                  { value: "opening", label: opening },
                  { value: "closing", label: "the closing bell" },
                ]}
                onChange={(picked) => set(index, { hangsOn: picked })}
              />
              <Select
                label="Sent"
                value={email.minutes < 0 ? "before" : "after"}
                options={[
                  { value: "before", label: "before it" },
                  { value: "after", label: "at it or after" },
                ]}
                onChange={(picked) => set(index, { minutes: picked === "before" ? -(away || 60) : away })}
              />
              <DurationField
                label="Offset"
                minutes={away}
                wrong={draft.wrong(`emails.${index}.minutes`)}
                onChange={(minutes) => set(index, { minutes: email.minutes < 0 ? -minutes : minutes })}
              />
              <Select
                label="Recipients"
                value={email.to}
                options={[
                  { value: "list", label: "everyone on the list" },
                  { value: "not_bought", label: "those who have not bought" },
                ]}
                onChange={(picked) => set(index, { to: picked })}
              />
            </div>
            <Field
              label="Subject"
              value={email.subject}
              wrong={draft.wrong(`emails.${index}.subject`)}
              onChange={(event) => set(index, { subject: event.currentTarget.value })}
            />
            <Field
              label="Text"
              rows={5}
              value={email.text}
              wrong={draft.wrong(`emails.${index}.text`)}
              onChange={(event) => set(index, { text: event.currentTarget.value })}
            />
            <button type="button" className={styles.remove} onClick={() => draft.set({ emails: without(emails, index) })}>
              Remove this email
            </button>
          </details>
        );
      })}
      <p className={styles.actions}>
        <Button
          onClick={() =>
            draft.set({
              emails: [
                ...emails,
                {
                  id: freshId(emails, "email"),
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
          Add an email
        </Button>
      </p>
    </section>
  );
};
