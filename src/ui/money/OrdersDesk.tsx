import { useMemo, useState } from "react";
import { listOrders, type OrdersAsked } from "../../contract/orders";
import { orderSorts, type OrderRow } from "../../core/money";
import { useParts } from "../kit/data/useRead";
import { useReady } from "../kit/data/useReady";
import { EmptyState } from "../kit/EmptyState";
import { DataTable } from "../kit/table/DataTable";
import { readSort, writeSort } from "../kit/table/address";
import { OrderFilters } from "./OrderFilters";
import { orderColumns } from "./orderColumns";

interface Props {
  launches: { slug: string; name: string }[];
  asked: OrdersAsked;
  /** The query of the address, with the moment that the screen shows. */
  search: string;
  first: { orders: OrderRow[]; all: number; next?: string | undefined };
}

/** What is asked, as it stands in an address beside what else stands there; what is asked anyway is left out. */
const addressOf = (path: string, search: string, asked: OrdersAsked): string => {
  const query = new URLSearchParams(search);
  for (const [name, value] of Object.entries(asked))
    if (value === "" || (name === "sort" && value === "-placed")) query.delete(name);
    else query.set(name, value);
  return query.size > 0 ? `${path}?${query}` : path;
};

/** All orders: narrowed, sorted, read to the last one, and taken away as a file. Each leads to its lines, postings and credit. */
export const OrdersDesk = ({ launches, asked: sent, search, first }: Props) => {
  const ready = useReady();
  const [asked, setAsked] = useState(sent);
  const { parts, loading, more, failure } = useParts(listOrders, asked, { request: sent, answer: first }, ({ next }) => next);
  const orders = useMemo(() => parts.flatMap((part) => part.orders), [parts]);
  const change = (part: Partial<OrdersAsked>) => {
    const next = { ...asked, ...part };
    setAsked(next);
    history.replaceState(history.state, "", addressOf(location.pathname, location.search, next));
  };
  const narrowed = Object.entries(asked).some(([name, value]) => name !== "sort" && value !== "");
  return (
    <>
      {/* What is typed before the screen answers would be lost. */}
      <div inert={!ready}>
        <OrderFilters launches={launches} asked={asked} onChange={change} />
      </div>
      {failure && <p role="alert">{failure}</p>}
      <DataTable
        name="Orders"
        of={["order", "orders"]}
        columns={orderColumns}
        rows={orders}
        rowKey={(row) => row.id}
        remote={{
          all: parts[0]?.all ?? 0,
          loading,
          more,
          sort: readSort(asked.sort, orderSorts)!,
          onSort: (sort) => change({ sort: writeSort(sort) as OrdersAsked["sort"] }),
          file: addressOf("/desk/orders/list.csv", search, asked),
        }}
        chosen={() => null}
        empty={
          narrowed ? (
            <EmptyState title="No order fits" says="None of the orders is all that was asked for.">
              <a href="/desk/orders">Show all orders</a>
            </EmptyState>
          ) : (
            <EmptyState title="Orders will stand here" says="With what was bought, who is credited, and every posting behind it." />
          )
        }
      />
    </>
  );
};
