import { distinctNames } from "../../../core/figures";
import { formsOf, type Target } from "../../../core/pages";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import type { Editing } from "../editor/editing";
import styles from "../editor/editor.module.css";

interface Props {
  label: string;
  value: Target | null;
  /** What having no target is called, where that may be. */
  none?: string;
  wrong?: string;
  editing: Editing;
  /** Whether an address outside can be handed on where the person came from. */
  tracks?: boolean;
  onChange: (target: Target | null) => void;
}

const asText = (target: Target | null): string => {
  if (target === null) return "";
  switch (target.to) {
    case "page":
      return `page:${target.page}`;
    case "checkout":
      return target.over ? "checkout:over" : "checkout";
    case "form":
      return `form:${target.block}`;
    case "launch":
      return `launch:${target.launch}`;
    case "calendar":
      return `calendar:${target.of}`;
    default:
      return target.to;
  }
};

const read = (text: string): Target | null => {
  const [to, rest] = [text.split(":")[0]!, text.slice(text.indexOf(":") + 1)];
  if (to === "page") return { to, page: rest };
  if (to === "checkout") return { to, over: rest === "over" };
  if (to === "form") return { to, block: rest };
  if (to === "launch") return { to, launch: rest };
  if (to === "calendar") return { to, of: rest };
  if (to === "outside") return { to, url: "https://" };
  return to === "next" || to === "library" ? { to } : null;
};

/** Where a button leads, chosen from what there is. */
export const TargetField = ({ label, value, none, wrong, editing, tracks = false, onChange }: Props) => {
  const { pages, episodes, launches, content, overlays } = editing;
  const options = [
    ...(none ? [{ value: "", label: none }] : []),
    { value: "next", label: "the next step" },
    ...(pages.some(({ kind }) => kind === "checkout")
      ? [{ value: "checkout", label: "the checkout" }, ...(overlays ? [{ value: "checkout:over", label: "the checkout, over this page" }] : [])]
      : []),
    ...formsOf(content).map((form) => ({ value: `form:${form.id}`, label: `open the form “${form.heading || form.button}”` })),
    ...distinctNames(
      pages.map(({ key, slug, title }) => ({ key, slug, name: title })),
      ({ slug }) => `/${slug}`,
    ).map(({ key, name }) => ({ value: `page:${key}`, label: `the page “${name}”` })),
    ...launches.map(({ slug, name }) => ({ value: `launch:${slug}`, label: `the launch ${name}` })),
    { value: "library", label: "the buyer’s library" },
    { value: "calendar:opening", label: "a calendar entry: the doors open" },
    { value: "calendar:closing", label: "a calendar entry: the doors close" },
    ...episodes.map((key) => ({ value: `calendar:${key}`, label: `a calendar entry: ${pages.find((page) => page.key === key)?.title ?? key}` })),
    { value: "outside", label: "another site" },
  ];
  const now = asText(value);
  // A target that is gone stays in the list, so that the field does not pretend another one.
  if (!options.some((option) => option.value === now)) options.push({ value: now, label: "something that is not there any more" });
  return (
    <>
      <Select
        label={label}
        value={now}
        options={options}
        wrong={value?.to === "outside" ? undefined : wrong}
        onChange={(picked) => onChange(read(picked))}
      />
      {value?.to === "outside" && (
        <>
          <Field
            label="Its address"
            value={value.url}
            wrong={wrong}
            hint={value.keep ? "{partner} in it becomes the code of the partner who sent the person." : undefined}
            onChange={(event) => onChange({ ...value, url: event.currentTarget.value })}
          />
          {tracks && (
            <label className={styles.tick}>
              <input type="checkbox" checked={value.keep ?? false} onChange={(event) => onChange({ ...value, keep: event.currentTarget.checked })} />{" "}
              hand on where they came from
            </label>
          )}
        </>
      )}
    </>
  );
};
