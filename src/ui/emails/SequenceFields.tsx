import type { MomentSetting, SequenceSetting } from "../../core/launch";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import { OutsideNotice } from "../launch/OutsideNotice";
import editor from "../pages/editor/editor.module.css";
import { momentNames } from "./sequenceWords";

interface Props {
  sequence: SequenceSetting;
  products: readonly { id: string; name: string }[];
  launch: { slug: string; origin: string; personal: boolean };
  wrong: (field: string) => string | undefined;
  onChange: (part: Partial<SequenceSetting>) => void;
}

const fresh = (on: MomentSetting["on"]): MomentSetting =>
  on === "bought" || on === "refunded" ? { on, product: null } : on === "tag" ? { on, tag: "" } : on === "notice" ? { on, name: "" } : { on };

const ofClocks: readonly string[] = ["clock_start", "clock_end"];

/** What a sequence counts from, and for whom it ends. */
export const SequenceFields = ({ sequence, products, launch, wrong, onChange }: Props) => {
  const { from } = sequence;
  return (
    <>
      <Field label="Name" value={sequence.name} wrong={wrong("name")} onChange={(event) => onChange({ name: event.currentTarget.value })} />
      <Select
        label="Counts from"
        value={from.on}
        options={Object.entries(momentNames)
          // Where nobody has a clock of their own, none starts or ends.
          .filter(([value]) => launch.personal || !ofClocks.includes(value) || value === from.on)
          .map(([value, label]) => ({ value: value as MomentSetting["on"], label }))}
        onChange={(on) => onChange(on === "clock_end" ? { from: fresh(on), untilClosed: false } : { from: fresh(on) })}
      />
      {from.on === "tag" && (
        <Field
          label="Tag"
          value={from.tag}
          wrong={wrong("from.tag")}
          onChange={(event) => onChange({ from: { on: "tag", tag: event.currentTarget.value } })}
        />
      )}
      {from.on === "notice" && (
        <>
          <Field
            label="What it reports"
            hint="A name of your choice, such as “attended the webinar”. The other tool sends the same."
            value={from.name}
            wrong={wrong("from.name")}
            onChange={(event) => onChange({ from: { on: "notice", name: event.currentTarget.value } })}
          />
          <OutsideNotice slug={launch.slug} origin={launch.origin} notice={{ type: "person.notice", notice: from.name }} mayChange />
        </>
      )}
      {(from.on === "bought" || from.on === "refunded") && (
        <Select
          label="Product"
          value={from.product ?? ""}
          options={[{ value: "", label: "any product" }, ...products.map(({ id, name }) => ({ value: id, label: name }))]}
          onChange={(product) => onChange({ from: { on: from.on, product: product || null } })}
        />
      )}
      <label className={editor.tick}>
        <input type="checkbox" checked={sequence.untilBought} onChange={(event) => onChange({ untilBought: event.currentTarget.checked })} /> stops
        for whoever buys
      </label>
      {from.on !== "clock_end" && (
        <label className={editor.tick}>
          <input type="checkbox" checked={sequence.untilClosed} onChange={(event) => onChange({ untilClosed: event.currentTarget.checked })} /> stops
          when their doors close
        </label>
      )}
      <p className="muted">It takes in whoever has this moment from now on. Nobody is in it twice.</p>
    </>
  );
};
