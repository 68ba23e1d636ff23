import { useEffect, useState } from "react";
import type { OrdersAsked } from "../../contract/orders";
import { orderStates, type OrderState } from "../../core/money";
import { DateField } from "../kit/fields/DateTimeField";
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

interface Props {
  launches: { slug: string; name: string }[];
  asked: OrdersAsked;
  onChange: (part: Partial<OrdersAsked>) => void;
}

// Long enough for a word to be typed, short enough not to be waited for.
const restMs = 250;

/** Narrows the list of orders, as it is typed and chosen. */
export const OrderFilters = ({ launches, asked, onChange }: Props) => {
  const [search, setSearch] = useState(asked.search);
  useEffect(() => {
    if (search === asked.search) return;
    const timer = setTimeout(() => onChange({ search }), restMs);
    return () => clearTimeout(timer);
  }, [search, asked.search, onChange]);
  return (
    <form className={styles.filters} role="search" onSubmit={(event) => event.preventDefault()}>
      <Field
        label="Name, address, product or number"
        type="search"
        maxLength={120}
        value={search}
        onChange={(event) => setSearch(event.currentTarget.value)}
      />
      <Select
        label="Launch"
        value={asked.launch}
        options={[{ value: "", label: "all" }, ...launches.map(({ slug, name }) => ({ value: slug, label: name }))]}
        onChange={(launch) => onChange({ launch })}
      />
      <Select
        label="Status"
        value={asked.state}
        options={[{ value: "", label: "all but tests" }, ...orderStates.map((value) => ({ value, label: stateWords[value] }))]}
        onChange={(state) => onChange({ state })}
      />
      <Select
        label="Source"
        value={asked.source}
        options={[{ value: "", label: "any source" }, ...["own", "hand", "harbour"].map((value) => ({ value, label: sourceWords(value) }))]}
        onChange={(source) => onChange({ source })}
      />
      <DateField label="From" value={asked.from} onChange={(from) => onChange({ from })} />
      <DateField label="Until" value={asked.until} onChange={(until) => onChange({ until })} />
    </form>
  );
};
