import type { AnswerOf } from "../../contract/endpoint";
import { changeTaxTable } from "../../contract/products";
import { formatBasisPoints } from "../kit/data/numbers";
import { useState, type FormEvent } from "react";
import { regionName, taxClasses, type TaxClass } from "../../core/offers";
import { Button } from "../kit/Button";
import { DateField } from "../kit/fields/DateTimeField";
import { Field } from "../kit/fields/Field";
import { Pane } from "../kit/Pane";
import { optionsOf, Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import { Table } from "../kit/Table";
import { useReady } from "../kit/data/useReady";
import { useToast } from "../kit/Toast";
import styles from "./products.module.css";

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
  const { say, toast } = useToast();
  const ready = useReady();
  const [rows, setRows] = useState(first);
  const [typed, setTyped] = useState({ country: "PT", region: "", taxClass: "standard" as TaxClass, rate: "", from: today });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [search, setSearch] = useState("");
  const change = async (body: typeof typed & { do: "set" | "drop" }) => {
    const answer = await call(changeTaxTable, { request: body });
    if (!answer.ok) {
      if (Object.keys(answer.fields).length === 0) say(answer.message, true);
      return setWrong(answer.fields);
    }
    setWrong({});
    setRows(answer.value);
    say(body.do === "set" ? "It holds from its day on. Orders keep the tax they were charged." : "Taken out of the table.");
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void change({ ...typed, do: "set" });
  };
  const name = (code: string) => countries[code] ?? code;
  const place = ({ country, region }: Pick<TaxRow, "country" | "region">) =>
    region ? `${name(country)}: ${regionName(country, region)}` : name(country);
  const holds = ({ country, region, taxClass, from }: TaxRow) =>
    from <= today &&
    !rows.some(
      (other) => other.country === country && other.region === region && other.taxClass === taxClass && other.from > from && other.from <= today,
    );
  const shown = [...rows]
    .sort((a, b) => place(a).localeCompare(place(b)))
    .filter((one) => `${place(one)} ${one.country} ${one.taxClass}`.toLowerCase().includes(search.toLowerCase()));
  return (
    <div inert={!ready} className={styles.desk}>
      <div style={{ minWidth: 0 }}>
        <div className={styles.search}>
          <Field label="Find a country" type="search" value={search} onChange={(event) => setSearch(event.currentTarget.value)} />
        </div>
        <Table
          name="Tax rates"
          rows={shown}
          rowKey={({ country, region, taxClass, from }) => `${country} ${region} ${taxClass} ${from}`}
          columns={[
            { title: "Country", cell: place },
            { title: "Class", cell: ({ taxClass }) => taxClass },
            { title: "Rate", figure: true, cell: ({ rateBp }) => formatBasisPoints(rateBp) },
            { title: "From", cell: ({ from }) => from },
            { title: "Now", cell: (one) => (holds(one) ? "holds" : one.from > today ? "to come" : <span className="muted">over</span>) },
            {
              title: "",
              cell: ({ country, region, taxClass, from }) =>
                mayWrite && (
                  <button
                    type="button"
                    className={styles.drop}
                    aria-label={`Remove ${place({ country, region })}, ${taxClass}, from ${from}`}
                    onClick={() => void change({ do: "drop", country, region, taxClass: taxClass as TaxClass, from, rate: "" })}
                  >
                    Remove
                  </button>
                ),
            },
          ]}
        />
      </div>
      <Pane title="Add a rate">
        <p className="muted">Shipped from memory: look a rate up before you sell by it. A country without a row is charged no tax.</p>
        <form onSubmit={submit} noValidate inert={!mayWrite}>
          <Select
            label="Country"
            value={typed.country}
            wrong={wrong["country"]}
            options={optionsOf(countries)}
            onChange={(picked) => setTyped({ ...typed, country: picked })}
          />
          <Field
            label="Region, if it has a rate of its own"
            hint="The part after the country in its ISO 3166-2 code: 20 for the Azores, PT-20. Buyers of that country are asked for theirs."
            value={typed.region}
            wrong={wrong["region"]}
            onChange={(event) => setTyped({ ...typed, region: event.currentTarget.value })}
          />
          <Select
            label="Tax class"
            value={typed.taxClass}
            options={taxClasses.map((value) => ({ value, label: value }))}
            onChange={(picked) => setTyped({ ...typed, taxClass: picked })}
          />
          <Field
            label="Rate, percent"
            inputMode="decimal"
            value={typed.rate}
            wrong={wrong["rate"]}
            onChange={(event) => setTyped({ ...typed, rate: event.currentTarget.value })}
          />
          <DateField label="Valid from" value={typed.from} wrong={wrong["from"]} onChange={(from) => setTyped({ ...typed, from })} />
          <p style={{ marginTop: 12 }}>
            <Button type="submit">Add the rate</Button>
          </p>
        </form>
      </Pane>
      {toast}
    </div>
  );
};
