import type { StepSetting } from "../../core/launch";
import { DurationField } from "../kit/fields/DurationField";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import { tagCondition } from "./sequenceWords";

interface Props {
  step: StepSetting;
  wrong: (field: string) => string | undefined;
  onChange: (part: Partial<StepSetting>) => void;
}

type Who = "everybody" | "with" | "without" | "other";

/** When a step of a sequence goes, and to whom. */
export const StepFields = ({ step, wrong, onChange }: Props) => {
  const tag = tagCondition(step.when);
  const who: Who = !step.when ? "everybody" : !tag ? "other" : tag.has ? "with" : "without";
  const meant = (of: Who, name: string): StepSetting["when"] =>
    of === "with" ? { tag: name } : of === "without" ? { none: [{ tag: name }] } : of === "other" ? step.when : null;
  return (
    <>
      <DurationField
        key={step.id}
        label="After the moment"
        minutes={step.minutes}
        wrong={wrong("minutes")}
        onChange={(minutes) => onChange({ minutes })}
      />
      <Field
        label="Then at"
        placeholder="any time"
        hint="A time of day such as 08:00, in the reader’s own zone. Empty goes at once."
        value={step.time ?? ""}
        wrong={wrong("time")}
        onChange={(event) => onChange({ time: event.currentTarget.value.trim() || null })}
      />
      <Select
        label="Recipients"
        value={who}
        options={[
          { value: "everybody", label: "everybody in it" },
          { value: "with", label: "those with a tag" },
          { value: "without", label: "those without a tag" },
          ...(who === "other" ? [{ value: "other" as Who, label: "by a condition" }] : []),
        ]}
        onChange={(of) => onChange({ when: meant(of, tag?.tag ?? "") })}
      />
      {tag && (
        <Field
          label="Tag"
          value={tag.tag}
          wrong={wrong("when.tag") ?? wrong("when")}
          onChange={(event) => onChange({ when: meant(who, event.currentTarget.value) })}
        />
      )}
    </>
  );
};
