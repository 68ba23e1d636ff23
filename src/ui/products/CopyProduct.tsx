import { useState } from "react";
import { copyProduct } from "../../contract/products";
import type { ProductRow } from "../../core/offers";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { Field } from "../kit/fields/Field";
import styles from "./products.module.css";

/** The same thing at another price, for the next offer or a downsell. */
export const CopyProduct = ({ product }: { product: ProductRow }) => {
  const [typed, setTyped] = useState({ name: "", price: "" });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const copy = async () => {
    const answer = await call(copyProduct, { params: { id: product.id }, request: typed });
    if (answer.ok) return location.assign(`/desk/products?at=${answer.value.id}`);
    setWrong(Object.keys(answer.fields).length > 0 ? answer.fields : { name: answer.message });
  };
  return (
    <details className={styles.copy}>
      <summary>Copy at another price</summary>
      <Field
        label="Name of the copy"
        value={typed.name}
        wrong={wrong["name"]}
        onChange={(event) => setTyped({ ...typed, name: event.currentTarget.value })}
      />
      <Field
        label={`The copy's price, ${product.currency}`}
        inputMode="decimal"
        value={typed.price}
        wrong={wrong["price"]}
        onChange={(event) => setTyped({ ...typed, price: event.currentTarget.value })}
      />
      <p style={{ marginTop: 10 }}>
        <Button onClick={() => void copy()}>Copy the product</Button>
      </p>
    </details>
  );
};
