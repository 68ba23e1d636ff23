import * as orders from "../../contract/orders";
import { formatAmount } from "../kit/data/numbers";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { optionsOf, Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import { useAct } from "../kit/data/useAct";
import { useReady } from "../kit/data/useReady";
import { useMakeForm } from "../kit/record/useMakeForm";
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
  const act = useAct();
  const form = useMakeForm({
    keep: "order-by-hand",
    fresh: {
      launch: launches[0]?.slug ?? "",
      product: "",
      quantity: "1",
      amount: "",
      how: "",
      email: "",
      firstName: "",
      country: "",
      receipt: true,
    },
    send: (typed) => call(orders.enterOrder, { request: { ...typed, act: act() } }),
    made: ({ id }) => location.assign(`/desk/orders/${id}`),
  });
  const typed = form.values;
  const product = products.find(({ id }) => id === typed.product);
  return (
    <form inert={!ready} className={styles.enter} noValidate onSubmit={(event) => void form.submit(event)}>
      <Select label="Launch" options={launches.map(({ slug, name }) => ({ value: slug, label: name }))} {...form.choice("launch")} />
      <Select
        label="Product"
        options={[{ value: "", label: "choose one" }, ...products.map(({ id, name }) => ({ value: id, label: name }))]}
        {...form.choice("product")}
        onChange={(picked) => {
          const chosen = products.find(({ id }) => id === picked);
          form.set("product", picked);
          if (chosen) form.set("amount", formatAmount(chosen.priceMinor, chosen.currency));
        }}
      />
      <div className={styles.two}>
        <Field label="Quantity" inputMode="numeric" {...form.text("quantity")} />
        <Field
          label={`Total paid, ${product?.currency ?? "tax included"}`}
          hint={product ? "Tax included." : undefined}
          inputMode="decimal"
          {...form.text("amount")}
        />
      </div>
      <Field label="Payment method" hint="Such as “bank transfer of 3 May”. Only the desk reads this." {...form.text("how")} />
      <div className={styles.two}>
        <Field label="Buyer's first name" {...form.text("firstName")} />
        <Field label="Buyer's email" {...form.text("email")} />
      </div>
      <Select label="Buyer's country" options={[{ value: "", label: "choose one" }, ...optionsOf(countries)]} {...form.choice("country")} />
      <label className={styles.tick}>
        <input type="checkbox" checked={typed.receipt} onChange={(event) => form.set("receipt", event.currentTarget.checked)} />
        <span>Send the buyer a receipt.</span>
      </label>
      <p className={styles.actions}>
        <Button main type="submit" disabled={form.busy}>
          Enter the order
        </Button>
      </p>
    </form>
  );
};
