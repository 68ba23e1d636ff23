import { z } from "zod";
import { orderStates, type OrderFilter } from "../../core/money";

const day = z.iso.date();

/** What an address narrows the list of orders to. What makes no sense in it is passed over. */
export const orderFilterOf = (asked: URLSearchParams, launches: { slug: string; id: string }[]): OrderFilter => {
  const text = (name: string) => asked.get(name)?.slice(0, 120) ?? "";
  const dayOf = (name: string) => (day.safeParse(asked.get(name)).success ? asked.get(name)! : "");
  return {
    launch: launches.find(({ slug }) => slug === text("launch"))?.id,
    search: text("search"),
    state: orderStates.find((one) => one === text("state")) ?? "",
    source: text("source"),
    from: dayOf("from"),
    until: dayOf("until"),
  };
};
