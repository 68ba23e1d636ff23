import { useState } from "react";
import { Button } from "../../kit/Button";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import type { Editing } from "../editor/editing";

interface Props {
  value: string | null;
  editing: Editing;
  wrong?: string;
  onChange: (id: string | null) => void;
}

/** What a bump adds: one of the vendor's products, or a new one made here. */
export const BumpProduct = ({ value, editing, wrong, onChange }: Props) => {
  const [typed, setTyped] = useState({ name: "", price: "" });
  const [objections, setObjections] = useState<Record<string, string>>({});
  const make = async () => {
    const answer = await editing.makeProduct(typed);
    if (!answer.ok) return setObjections(Object.keys(answer.fields).length > 0 ? answer.fields : { name: answer.message });
    setObjections({});
    setTyped({ name: "", price: "" });
    onChange(answer.value.id);
  };
  return (
    <>
      <Select
        label="Adds"
        value={value ?? ""}
        wrong={wrong}
        options={[
          { value: "", label: "choose a product" },
          ...editing.products.map(({ id, name, price }) => ({ value: id, label: `${name}, ${price}` })),
        ]}
        onChange={(picked) => onChange(picked || null)}
      />
      {!value && (
        <>
          <Field
            label="Or a new product, as the buyer reads it"
            value={typed.name}
            wrong={objections["name"]}
            onChange={(event) => setTyped({ ...typed, name: event.currentTarget.value })}
          />
          <Field
            label="Its price"
            inputMode="decimal"
            value={typed.price}
            wrong={objections["price"]}
            onChange={(event) => setTyped({ ...typed, price: event.currentTarget.value })}
          />
          <p>
            <Button onClick={() => void make()}>Make it and add it here</Button>
          </p>
        </>
      )}
    </>
  );
};
