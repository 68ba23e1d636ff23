import type { AnswerOf } from "../../contract/endpoint";
import { changeTaxTable } from "../../contract/products";
import { formatBasisPoints } from "../kit/data/numbers";
import { useMemo, useState } from "react";
import { regionName, taxClasses, type TaxClass } from "../../core/offers";
import { Button } from "../kit/Button";
import { DateField } from "../kit/fields/DateTimeField";
import { Field } from "../kit/fields/Field";
import { Pane } from "../kit/Pane";
import { optionsOf, Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import { EmptyState } from "../kit/EmptyState";
import { useMakeForm } from "../kit/record/useMakeForm";
import { DataTable, type DataColumn } from "../kit/table/DataTable";
import { useReady } from "../kit/data/useReady";
import { say } from "../kit/notices";
import styles from "./products.module.css";

interface RateTyped {
  country: string;
  region: string;
  taxClass: TaxClass;
  rate: string;
  from: string;
}
type TaxRow = AnswerOf<typeof changeTaxTable>[number];

interface Props {
  rows: TaxRow[];
  /** The calendar day of the vendor's now: the rate that holds is marked. */
  today: string;
  /** Names by ISO 3166-1: a browser may call some of them otherwise than the server. */
  countries: Record<string, string>;
  mayWrite: boolean;
}

/** Rates of tax by country and class, each with the day from which it holds. */
export const TaxDesk = ({ rows: first, today, countries, mayWrite }: Props) => {
  const ready = useReady();
  const [rows, setRows] = useState(first);
  const form = useMakeForm<RateTyped, TaxRow[]>({
    keep: "tax-rate",
    fresh: { country: "PT", region: "", taxClass: "standard", rate: "", from: today },
    send: (typed) => call(changeTaxTable, { request: { ...typed, do: "set" } }),
    made: (table) => {
      setRows(table);
      say("It holds from its day on. Orders keep the tax they were charged.");
    },
  });
  const drop = async ({ country, region, taxClass, from }: TaxRow) => {
    const answer = await call(changeTaxTable, { request: { do: "drop", country, region, taxClass: taxClass as TaxClass, from, rate: "" } });
    if (!answer.ok) return say(answer.message, true);
    setRows(answer.value);
    say("Removed. Orders keep the tax they were charged.");
  };
  const name = (code: string) => countries[code] ?? code;
  const place = ({ country, region }: Pick<TaxRow, "country" | "region">) =>
    region ? `${name(country)}: ${regionName(country, region)}` : name(country);
  const holds = ({ country, region, taxClass, from }: TaxRow) =>
    from <= today &&
    !rows.some(
      (other) => other.country === country && other.region === region && other.taxClass === taxClass && other.from > from && other.from <= today,
    );
  const sorted = useMemo(() => [...rows].sort((a, b) => place(a).localeCompare(place(b))), [rows]);
  const state = (one: TaxRow) => (holds(one) ? "holds" : one.from > today ? "to come" : "over");
  const columns: DataColumn<TaxRow>[] = [
    { id: "country", title: "Country", value: (one) => `${place(one)}, ${one.country}`, cell: place },
    { id: "class", title: "Class", value: ({ taxClass }) => taxClass, cell: ({ taxClass }) => taxClass },
    {
      id: "rate",
      title: "Rate",
      figure: true,
      value: ({ rateBp }) => rateBp,
      file: ({ rateBp }) => formatBasisPoints(rateBp),
      cell: ({ rateBp }) => formatBasisPoints(rateBp),
    },
    { id: "from", title: "Valid from", whole: true, value: ({ from }) => from, cell: ({ from }) => from },
    { id: "status", title: "Status", value: state, cell: (one) => <span className={state(one) === "over" ? "muted" : undefined}>{state(one)}</span> },
  ];
  return (
    <div inert={!ready} className={styles.desk}>
      <div style={{ minWidth: 0 }}>
        <DataTable
          name="Tax rates"
          of={["rate", "rates"]}
          rows={sorted}
          rowKey={({ country, region, taxClass, from }) => `${country} ${region} ${taxClass} ${from}`}
          columns={columns}
          empty={<EmptyState title="Rates of tax will stand here" says="Without one, nobody is charged any tax." />}
          {...(mayWrite
            ? {
                actions: (one: TaxRow) => (
                  <button
                    type="button"
                    className={styles.drop}
                    aria-label={`Remove ${place(one)}, ${one.taxClass}, from ${one.from}`}
                    onClick={() => void drop(one)}
                  >
                    Remove
                  </button>
                ),
              }
            : {})}
        />
      </div>
      <Pane title="Add a rate">
        <p className="muted">Shipped from memory: look a rate up before you sell by it. A country without a row is charged no tax.</p>
        <form onSubmit={(event) => void form.submit(event)} noValidate inert={!mayWrite}>
          <Select label="Country" options={optionsOf(countries)} {...form.choice("country")} />
          <Field
            label="Region, if it has a rate of its own"
            hint="The part after the country in its ISO 3166-2 code: 20 for the Azores, PT-20. Buyers of that country are asked for theirs."
            {...form.text("region")}
          />
          <Select label="Tax class" options={taxClasses.map((value) => ({ value, label: value }))} {...form.choice("taxClass")} />
          <Field label="Rate, percent" inputMode="decimal" {...form.text("rate")} />
          <DateField label="Valid from" {...form.choice("from")} />
          <p style={{ marginTop: 12 }}>
            <Button type="submit" disabled={form.busy}>
              Add the rate
            </Button>
          </p>
        </form>
      </Pane>
    </div>
  );
};
