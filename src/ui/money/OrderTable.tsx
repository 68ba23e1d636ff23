import { orderNumber } from "../../core/money";
import { shortMoment, zoneCity } from "../../core/words";
import { formatMoney } from "../kit/data/numbers";
import type { OrderRow } from "../../core/money";
import { EmptyState } from "../kit/EmptyState";
import { Table } from "../kit/Table";
import styles from "./money.module.css";
import { sourceWords } from "./words";

/** Orders, newest first; each leads to its lines, postings and credit. `narrowed`: there may be others. */
export const OrderTable = ({ orders, narrowed = false }: { orders: OrderRow[]; narrowed?: boolean }) =>
  orders.length === 0 && narrowed ? (
    <EmptyState title="No order fits" says="Of those there are, none is all that was asked for.">
      <a href="/desk/orders">Show all orders</a>
    </EmptyState>
  ) : orders.length === 0 ? (
    <EmptyState title="Orders will stand here" says="With what was bought, who is credited, and every posting behind it." />
  ) : (
    <Table
      name="Orders"
      rows={orders}
      rowKey={(row) => row.id}
      columns={[
        { title: "Order", cell: (row) => <a href={`/desk/orders/${row.id}`}>{orderNumber(row.number)}</a> },
        { title: "Placed", whole: true, cell: (row) => `${shortMoment(row.placedAt, row.zone)}, ${zoneCity(row.zone)}` },
        { title: "Buyer", whole: true, cell: (row) => `${row.buyer}, ${row.country}` },
        { title: "Products", cell: (row) => row.lines },
        {
          title: "Credited",
          whole: true,
          cell: (row) =>
            row.partner ?? <span className="muted">{row.source === "own" || row.source === "hand" ? "nobody" : "by the marketplace"}</span>,
        },
        {
          title: "Source",
          cell: (row) => (
            <>
              {row.test && <span className={styles.test}>test</span>} {sourceWords(row.source)}
              {row.recovered && ", recovered"}
              {row.dispute && <b className={styles.loss}> dispute {row.dispute}</b>}
            </>
          ),
        },
        {
          title: "Paid",
          figure: true,
          cell: (row) => (
            <>
              {formatMoney(row.grossMinor, row.currency)}
              {row.authorizedMinor > 0 && (
                <>
                  <br />
                  <span className="muted">
                    {row.authorizedMinor < row.grossMinor && `${formatMoney(row.authorizedMinor, row.currency)} `}authorized
                  </span>
                </>
              )}
              {row.refundedMinor > 0 && (
                <>
                  <br />
                  <span className={styles.loss}>−{formatMoney(row.refundedMinor, row.currency)}</span>
                </>
              )}
            </>
          ),
        },
      ]}
    />
  );
