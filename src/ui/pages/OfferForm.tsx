import { useState, type FormEvent } from "react";
import { z } from "zod";
import { Button } from "../kit/Button";
import { Field } from "../kit/Field";
import { send } from "../kit/send";

/** What an offer page offers, and at which price. */
export const OfferForm = ({ pageId, name, price, currency }: { pageId: string; name: string; price: string; currency: string }) => {
  const [typed, setTyped] = useState({ name, price });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const save = async (event: FormEvent) => {
    event.preventDefault();
    const answer = await send(`/api/desk/pages/${pageId}/offer`, typed, z.object({}));
    if (answer.ok) return location.reload();
    setWrong(Object.keys(answer.fields).length > 0 ? answer.fields : { name: answer.message });
  };
  return (
    <form onSubmit={save} noValidate style={{ borderTop: "1px solid var(--hair)", marginTop: 20, paddingTop: 14 }}>
      <h2>What is offered</h2>
      {!name && <p style={{ color: "var(--madder)", fontWeight: 600 }}>Nothing yet, so this page cannot be published.</p>}
      <Field
        label="Product offered"
        value={typed.name}
        wrong={wrong["name"]}
        onChange={(event) => setTyped({ ...typed, name: event.currentTarget.value })}
      />
      <Field
        label={`Offer price, ${currency}`}
        inputMode="decimal"
        value={typed.price}
        wrong={wrong["price"]}
        onChange={(event) => setTyped({ ...typed, price: event.currentTarget.value })}
      />
      <p style={{ marginTop: 12 }}>
        <Button type="submit">Set the offer</Button>
      </p>
    </form>
  );
};
