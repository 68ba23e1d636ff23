import type { EmailSetting } from "../../core/launch";
import { DurationField } from "../kit/fields/DurationField";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";

interface Props {
  email: EmailSetting;
  /** What the bell is called at which the doors open: a clock of one's own starts there. */
  opening: string;
  wrong: (field: keyof EmailSetting) => string | undefined;
  onChange: (part: Partial<EmailSetting>) => void;
}

/** When an email goes, and to whom. */
export const EmailFields = ({ email, opening, wrong, onChange }: Props) => {
  const away = Math.abs(email.minutes);
  return (
    <>
      <Select
        label="Relative to"
        value={email.hangsOn}
        options={[
          { value: "opening", label: opening },
          { value: "closing", label: "the closing bell" },
        ]}
        onChange={(hangsOn) => onChange({ hangsOn })}
      />
      <Select
        label="Sent"
        value={email.minutes < 0 ? "before" : "after"}
        options={[
          { value: "before", label: "before it" },
          { value: "after", label: "at it or after" },
        ]}
        onChange={(picked) => onChange({ minutes: picked === "before" ? -(away || 60) : away })}
      />
      <DurationField
        key={email.id}
        label="Offset"
        minutes={away}
        wrong={wrong("minutes")}
        onChange={(minutes) => onChange({ minutes: email.minutes < 0 ? -minutes : minutes })}
      />
      <Field
        label="At"
        placeholder="the exact distance"
        hint="A time of day such as 18:00, in the launch’s zone: then the distance is in whole days."
        value={email.time ?? ""}
        wrong={wrong("time")}
        onChange={(event) => onChange({ time: event.currentTarget.value.trim() || null })}
      />
      <Select
        label="Recipients"
        value={email.to}
        options={[
          { value: "list", label: "everyone on the list" },
          { value: "not_bought", label: "those who have not bought" },
        ]}
        onChange={(to) => onChange({ to })}
      />
    </>
  );
};
