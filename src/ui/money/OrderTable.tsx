import type { OrderRow } from "../../core/money";
import { EmptyState } from "../kit/EmptyState";
import { Table } from "../kit/Table";
import { orderColumns } from "./orderColumns";

/** The newest orders; the list with all of them is another screen. */
export const OrderTable = ({ orders }: { orders: OrderRow[] }) =>
  orders.length === 0 ? (
    <EmptyState title="Orders will stand here" says="With what was bought, who is credited, and every posting behind it." />
  ) : (
    <Table name="Orders" rows={orders} rowKey={(row) => row.id} columns={orderColumns} />
  );
