import { useId } from "react";
import type { PageKind } from "../../core/launch";
import { purposes, templates, type PageContent, type Purpose } from "../../core/pages";
import kit from "../kit/kit.module.css";

export interface OwnTemplate {
  id: string;
  name: string;
  kind: PageKind;
  purpose: Purpose;
  content: PageContent;
}

interface Props {
  label: string;
  value: string;
  own: OwnTemplate[];
  /** Only templates of this kind. */
  kind?: PageKind;
  wrong?: string;
  onChange: (template: string) => void;
}

/** A choice of templates by what the page is for, the vendor's own among them. */
export const TemplateSelect = ({ label, value, own, kind, wrong, onChange }: Props) => {
  const id = useId();
  const fits = (one: { kind: PageKind }) => kind === undefined || one.kind === kind;
  return (
    <div className={kit.field}>
      <label className={kit.label} htmlFor={id}>
        {label}
      </label>
      <select
        id={id}
        className={kit.control}
        value={value}
        aria-invalid={wrong ? true : undefined}
        onChange={(event) => onChange(event.currentTarget.value)}
      >
        {purposes.map((purpose) => {
          const ready = templates.filter((one) => one.purpose === purpose && fits(one));
          const mine = own.filter((one) => one.purpose === purpose && fits(one));
          return (
            ready.length + mine.length > 0 && (
              <optgroup key={purpose} label={purpose}>
                {ready.map((one) => (
                  <option key={one.id} value={one.id}>
                    {one.name}
                  </option>
                ))}
                {mine.map((one) => (
                  <option key={one.id} value={one.id}>
                    {one.name}, yours
                  </option>
                ))}
              </optgroup>
            )
          );
        })}
      </select>
      {wrong && (
        <p className={kit.wrong} role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
};
