import type { z } from "zod";
import { ordersAsked } from "../../contract/orders";
import { orderSorts, type OrderFilter } from "../../core/money";
import type { OrderPage } from "../../store/checkout/orderList";

type Asked = z.output<typeof ordersAsked>;

/** What an address narrows the list of orders to, and how it sorts them. What makes no sense in it is passed over. */
export const ordersAskedBy = (url: URL): Asked => {
  const asked: Record<string, string> = Object.fromEntries(url.searchParams);
  for (;;) {
    const read = ordersAsked.safeParse(asked);
    if (read.success) return read.data;
    for (const { path } of read.error.issues) delete asked[String(path[0])];
  }
};

/** What the store is asked for. */
export const orderFilterOf = ({ launch, search, state, source, from, until }: Asked, launches: { slug: string; id: string }[]): OrderFilter => ({
  launch: launches.find(({ slug }) => slug === launch)?.id,
  search,
  state,
  source,
  from,
  until,
});
export const orderSortOf = ({ sort }: Asked): Required<Pick<OrderPage, "by" | "down">> => ({
  by: orderSorts.find((one) => one === sort.replace(/^-/, "")) ?? "placed",
  down: sort.startsWith("-"),
});
