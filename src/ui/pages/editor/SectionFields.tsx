import { spaceSteps, type Section } from "../../../core/pages";
import { Select } from "../../kit/fields/Select";

const grounds = [
  { value: "paper", label: "the paper" },
  { value: "sunk", label: "a shade deeper" },
  { value: "second", label: "the second colour" },
  { value: "accent", label: "the colour of buttons" },
];
const widths = [
  { value: "narrow", label: "narrow, to be read" },
  { value: "normal", label: "normal" },
  { value: "full", label: "the whole width" },
];

/** Ground, width and space of a section. */
export const SectionFields = ({ section, onChange }: { section: Section; onChange: (change: Partial<Section>) => void }) => (
  <>
    <Select
      label="Ground"
      value={section.ground}
      options={grounds}
      onChange={(event) => onChange({ ground: event.currentTarget.value as Section["ground"] })}
    />
    <Select
      label="Width"
      value={section.width}
      options={widths}
      onChange={(event) => onChange({ width: event.currentTarget.value as Section["width"] })}
    />
    <Select
      label="Space inside"
      value={section.space}
      options={spaceSteps.map((step) => ({ value: step, label: step }))}
      onChange={(event) => onChange({ space: event.currentTarget.value as Section["space"] })}
    />
  </>
);
