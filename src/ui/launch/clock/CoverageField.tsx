import { behindAnOrder, type Coverage, type LaunchPage } from "../../../core/launch";
import { Select } from "../../kit/fields/Select";
import { foldersOf, pageName } from "./clockDraft";
import styles from "./Clock.module.css";

interface Props {
  label: string;
  value: Coverage;
  pages: LaunchPage[];
  /** Leaves out the pages behind an order, which stand outside every gate. */
  gatesOnly?: boolean;
  wrong?: string;
  onChange: (coverage: Coverage) => void;
}

/** Which pages something holds for: some, whole folders, or all but some. */
export const CoverageField = ({ label, value, pages, gatesOnly = false, wrong, onChange }: Props) => {
  const toggle = (list: string[], item: string) => (list.includes(item) ? list.filter((other) => other !== item) : [...list, item]);
  const offered = pages.filter((page) => !gatesOnly || !behindAnOrder(page.kind));
  return (
    <div>
      <Select
        label={label}
        value={value.mode}
        wrong={wrong}
        options={[
          { value: "only", label: "these pages" },
          { value: "but", label: "all pages but these" },
        ]}
        onChange={(picked) => onChange({ ...value, mode: picked })}
      />
      <fieldset className={styles.ticks}>
        <legend className="visually-hidden">{label}</legend>
        {foldersOf(pages).map((folder) => (
          <label key={folder}>
            <input
              type="checkbox"
              checked={value.folders.includes(folder)}
              onChange={() => onChange({ ...value, folders: toggle(value.folders, folder) })}
            />
            all of /{folder}/
          </label>
        ))}
        {offered.map((page) => (
          <label key={page.key}>
            <input
              type="checkbox"
              checked={value.pages.includes(page.key)}
              onChange={() => onChange({ ...value, pages: toggle(value.pages, page.key) })}
            />
            {pageName(page, pages)}
          </label>
        ))}
      </fieldset>
    </div>
  );
};
