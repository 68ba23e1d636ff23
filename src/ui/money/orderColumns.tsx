import { formatAmount, orderNumber, type OrderRow, type OrderSort } from "../../core/money";
import { shortMoment, zoneCity } from "../../core/words";
import { formatMoney } from "../kit/data/numbers";
import type { DataColumn } from "../kit/table/DataTable";
import styles from "./money.module.css";
import { sourceWords } from "./words";

const Credited = ({ row: { partner, source } }: { row: OrderRow }) =>
  partner ?? <span className="muted">{source === "own" || source === "hand" ? "nobody" : "by the marketplace"}</span>;

const Source = ({ row }: { row: OrderRow }) => (
  <>
    {row.test && <span className={styles.test}>test</span>} {sourceWords(row.source)}
    {row.recovered && ", recovered"}
    {row.dispute && <b className={styles.loss}> dispute {row.dispute}</b>}
  </>
);

const Paid = ({ row }: { row: OrderRow }) => (
  <>
    {formatMoney(row.grossMinor, row.currency)}
    {row.authorizedMinor > 0 && (
      <>
        <br />
        <span className="muted">{row.authorizedMinor < row.grossMinor && `${formatMoney(row.authorizedMinor, row.currency)} `}authorized</span>
      </>
    )}
    {row.refundedMinor > 0 && (
      <>
        <br />
        <span className={styles.loss}>−{formatMoney(row.refundedMinor, row.currency)}</span>
      </>
    )}
  </>
);

/** What a list of orders shows of each. */
export const orderColumns: (DataColumn<OrderRow> & { id: OrderSort })[] = [
  {
    id: "number",
    title: "Order",
    value: (row) => orderNumber(row.number),
    cell: (row) => <a href={`/desk/orders/${row.id}`}>{orderNumber(row.number)}</a>,
  },
  {
    id: "placed",
    title: "Placed",
    whole: true,
    value: (row) => row.placedAt.toISOString(),
    cell: (row) => `${shortMoment(row.placedAt, row.zone)}, ${zoneCity(row.zone)}`,
  },
  { id: "buyer", title: "Buyer", whole: true, value: (row) => `${row.buyer}, ${row.country}`, cell: (row) => `${row.buyer}, ${row.country}` },
  { id: "products", title: "Products", value: (row) => row.lines, cell: (row) => row.lines },
  { id: "partner", title: "Credited", whole: true, aside: true, value: (row) => row.partner ?? "", cell: (row) => <Credited row={row} /> },
  { id: "source", title: "Source", aside: true, value: (row) => sourceWords(row.source), cell: (row) => <Source row={row} /> },
  {
    id: "paid",
    title: "Paid",
    figure: true,
    value: (row) => row.grossMinor,
    file: (row) => `${formatAmount(row.grossMinor, row.currency)} ${row.currency}`,
    cell: (row) => <Paid row={row} />,
  },
];
