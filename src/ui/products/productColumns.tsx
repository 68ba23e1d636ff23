import * as core from "../../core/money";
import { priceWords, type ProductRow } from "../../core/offers";
import { formatMoney } from "../kit/data/numbers";
import type { DataColumn } from "../kit/table/DataTable";
import styles from "./products.module.css";

/** The columns of all products; a name chooses its product. */
export const productColumns = (selected: string | undefined, onSelect: (id: string) => void): DataColumn<ProductRow>[] => [
  {
    id: "product",
    title: "Product",
    value: ({ name, privateLabel }) => `${name}, ${privateLabel}`,
    cell: ({ id, name, privateLabel, onSale }) => (
      <>
        <button type="button" className={styles.name} aria-pressed={id === selected} onClick={() => onSelect(id)}>
          {name}
        </button>
        <span className="muted">
          {privateLabel}
          {!onSale && <b className={styles.off}> not on sale</b>}
        </span>
      </>
    ),
  },
  {
    id: "uses",
    title: "Used as",
    value: ({ uses }) => uses.join("; "),
    cell: ({ uses }) => (uses.length > 0 ? uses.map((use) => <div key={use}>{use}</div>) : <span className="muted">nowhere yet</span>),
  },
  {
    id: "price",
    title: "Price",
    figure: true,
    value: ({ priceMinor }) => priceMinor,
    file: ({ priceMinor, currency }) => `${core.formatAmount(priceMinor, currency)} ${currency}`,
    cell: (one) => (
      <>
        {priceWords(one.terms, one.priceMinor, one.currency)}
        <br />
        <span className="muted">{one.taxMode === "inclusive" ? "tax included" : "plus tax"}</span>
      </>
    ),
  },
  { id: "sold", title: "Sold", figure: true, value: ({ sold }) => sold, cell: ({ sold }) => sold.toLocaleString("en") },
  {
    id: "revenue",
    title: "Revenue",
    figure: true,
    value: ({ grossMinor }) => grossMinor,
    file: ({ grossMinor, currency }) => `${core.formatAmount(grossMinor, currency)} ${currency}`,
    cell: ({ grossMinor, currency }) => formatMoney(grossMinor, currency),
  },
];
