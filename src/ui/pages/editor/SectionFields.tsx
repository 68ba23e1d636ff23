import { spaceSteps, type Section } from "../../../core/pages";
import { optionsOf, Select } from "../../kit/fields/Select";

const grounds = optionsOf({
  paper: "the paper",
  sunk: "a shade deeper",
  second: "the second colour",
  accent: "the colour of buttons",
});
const widths = optionsOf({
  narrow: "narrow, to be read",
  normal: "normal",
  full: "the whole width",
});

/** Ground, width and space of a section. */
export const SectionFields = ({ section, onChange }: { section: Section; onChange: (change: Partial<Section>) => void }) => (
  <>
    <Select label="Ground" value={section.ground} options={grounds} onChange={(picked) => onChange({ ground: picked })} />
    <Select label="Width" value={section.width} options={widths} onChange={(picked) => onChange({ width: picked })} />
    <Select
      label="Space inside"
      value={section.space}
      options={spaceSteps.map((step) => ({ value: step, label: step }))}
      onChange={(picked) => onChange({ space: picked })}
    />
  </>
);
