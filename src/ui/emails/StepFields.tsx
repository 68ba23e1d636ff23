import { useMemo } from "react";
import { conditionSentence, namedBy, readSentence } from "../../core/conditions";
import type { StepSetting } from "../../core/launch";
import { DurationField } from "../kit/fields/DurationField";
import { Field } from "../kit/fields/Field";
import { PeopleFilter } from "../people/filter/PeopleFilter";
import type { FilterChoices } from "../people/filter/RowDetails";

interface Props {
  step: StepSetting;
  choices: FilterChoices;
  wrong: (field: string) => string | undefined;
  onChange: (part: Partial<StepSetting>) => void;
}

/** When a step of a sequence goes, and to whom. */
export const StepFields = ({ step, choices, wrong, onChange }: Props) => {
  const { names, ids } = useMemo(() => namedBy(choices.things), [choices.things]);
  const setWho = (who: string) => {
    const read = who === "" ? undefined : readSentence(who, ids);
    if (!read) onChange({ when: null });
    else if ("condition" in read) onChange({ when: read.condition });
  };
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
      <p>{step.when ? "Only to those" : "To everybody in it"}</p>
      <PeopleFilter
        key={`who-${step.id}`}
        who={step.when ? conditionSentence(step.when, names) : ""}
        choices={choices}
        begin="Only to some of them"
        onChange={setWho}
      />
      {wrong("when") && <p role="alert">{wrong("when")}</p>}
    </>
  );
};
