import * as orders from "../../contract/orders";
import { formatAmount } from "../kit/data/numbers";
import { useState, type FormEvent } from "react";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { optionsOf, Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import { useAct } from "../kit/data/useAct";
import { useReady } from "../kit/data/useReady";
import { useToast } from "../kit/Toast";
import styles from "./money.module.css";

interface Props {
  launches: { slug: string; name: string }[];
  products: { id: string; name: string; currency: string; priceMinor: number }[];
  /** Names by ISO 3166-1: a browser may call some of them otherwise than the server. */
  countries: Record<string, string>;
}

/** An order that was paid by transfer or in cash: it takes its seat, its credit and its tax like any other. */
export const EnterOrder = ({ launches, products, countries }: Props) => {
  const ready = useReady();
  const { say, toast } = useToast();
  const [typed, setTyped] = useState({
    launch: launches[0]?.slug ?? "",
    product: "",
    quantity: "1",
    amount: "",
    how: "",
    email: "",
    firstName: "",
    country: "",
    receipt: true,
  });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [busy, setBusy] = useState(false);
  const act = useAct();
  const set = (change: Partial<typeof typed>) => setTyped((now) => ({ ...now, ...change }));
  const product = products.find(({ id }) => id === typed.product);
  const field = (name: "email" | "firstName" | "quantity" | "amount" | "how", label: string, hint?: string) => (
    <Field
      label={label}
      hint={hint}
      value={typed[name]}
      wrong={wrong[name]}
      inputMode={name === "amount" ? "decimal" : name === "quantity" ? "numeric" : undefined}
      onChange={(event) => set({ [name]: event.currentTarget.value })}
    />
  );
  const enter = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    const answer = await call(orders.enterOrder, { request: { ...typed, act: act() } });
    setBusy(false);
    if (answer.ok) return location.assign(`/desk/orders/${answer.value.id}`);
    setWrong(answer.fields);
    if (Object.keys(answer.fields).length === 0) say(answer.message, true);
  };
  return (
    <form inert={!ready} className={styles.enter} noValidate onSubmit={(event) => void enter(event)}>
      <Select
        label="Launch"
        value={typed.launch}
        wrong={wrong["launch"]}
        options={launches.map(({ slug, name }) => ({ value: slug, label: name }))}
        onChange={(picked) => set({ launch: picked })}
      />
      <Select
        label="Product"
        value={typed.product}
        wrong={wrong["product"]}
        options={[{ value: "", label: "choose one" }, ...products.map(({ id, name }) => ({ value: id, label: name }))]}
        onChange={(picked) => {
          const chosen = products.find(({ id }) => id === picked);
          set({ product: picked, ...(chosen ? { amount: formatAmount(chosen.priceMinor, chosen.currency) } : {}) });
        }}
      />
      <div className={styles.two}>
        {field("quantity", "Quantity")}
        {field("amount", `Total paid, ${product?.currency ?? "tax included"}`, product ? "Tax included." : undefined)}
      </div>
      {field("how", "Payment method", "Such as “bank transfer of 3 May”. Only the desk reads this.")}
      <div className={styles.two}>
        {field("firstName", "Buyer's first name")}
        {field("email", "Buyer's email")}
      </div>
      <Select
        label="Buyer's country"
        value={typed.country}
        wrong={wrong["country"]}
        options={[{ value: "", label: "choose one" }, ...optionsOf(countries)]}
        onChange={(picked) => set({ country: picked })}
      />
      <label className={styles.tick}>
        <input type="checkbox" checked={typed.receipt} onChange={(event) => set({ receipt: event.currentTarget.checked })} />
        <span>Send the buyer a receipt.</span>
      </label>
      <p className={styles.actions}>
        <Button main type="submit" disabled={busy}>
          Enter the order
        </Button>
      </p>
      {toast}
    </form>
  );
};
