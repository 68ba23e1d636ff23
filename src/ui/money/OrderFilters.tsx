import { orderStates, type OrderState } from "../../core/money";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import styles from "./money.module.css";
import { sourceWords } from "./words";

const stateWords: Record<OrderState, string> = {
  authorized: "authorized, not sent yet",
  refunded: "refunded",
  disputed: "disputed",
  recovered: "recovered by email",
  recurring: "with recurring payments",
  test: "made in test mode",
};

/** Narrows the list of orders. A form of its own: its address is a link to what is shown. */
export const OrderFilters = ({ launches, values }: { launches: { slug: string; name: string }[]; values: Record<string, string> }) => (
  <form method="get" className={styles.filters} role="search">
    <Field label="Name, address, product or number" type="search" name="search" defaultValue={values["search"]} />
    <Select
      label="Launch"
      name="launch"
      defaultValue={values["launch"]}
      options={[{ value: "", label: "all" }, ...launches.map(({ slug, name }) => ({ value: slug, label: name }))]}
    />
    <Select
      label="Status"
      name="state"
      defaultValue={values["state"]}
      options={[{ value: "", label: "all but tests" }, ...orderStates.map((value) => ({ value, label: stateWords[value] }))]}
    />
    <Select
      label="Source"
      name="source"
      defaultValue={values["source"]}
      options={[{ value: "", label: "any source" }, ...["own", "hand", "harbour"].map((value) => ({ value, label: sourceWords(value) }))]}
    />
    <Field label="From" type="date" name="from" defaultValue={values["from"]} />
    <Field label="Until" type="date" name="until" defaultValue={values["until"]} />
    <Button type="submit">Show orders</Button>
  </form>
);
