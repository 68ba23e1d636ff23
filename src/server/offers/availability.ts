import { counted } from "../../core/figures";
import type { ChargeItem } from "../../core/offers";
import type { Order, Product } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { prepared } from "../../store/prepared";
import { Refusal } from "../platform";
import type { LaunchContext, OfferStep } from "../launch";

// Pieces that were paid, and those being charged at this moment. Who only tries things out takes none.
const takenOf = /* sql */ `(select coalesce(sum(n.quantity), 0) from order_line n join sale_order s on s.id = n.order_id
    where n.product_id = ? and n.role not in ('shipping', 'rebill') and not s.test)
  + (select coalesce(sum(coalesce((i->>'quantity')::int, 1)), 0) from charge g join checkout k on k.id = g.checkout_id and not k.test, jsonb_array_elements(g.items) i
    where g.state in ('pending', 'challenge') and i->>'productId' = ? and i->>'role' not in ('shipping', 'rebill'))`;

const seatGone = (name: string) => new Refusal(409, "seats_taken", `The last ${name} has just been taken. Nothing was charged.`);

/**
 * Refuses a charge beyond the last seat of the launch, or beyond what there is of a product. Called last before the
 * commit, because every buyer waits for these rows. `more` are pieces of a product that are not written down yet.
 */
export const mustHaveSeat = async (tx: EntityManager, { plan, launch }: LaunchContext, items: readonly ChargeItem[], more = 0): Promise<void> => {
  const { seats } = plan.settings;
  const wanted = items.reduce((sum, { role, quantity = 1 }) => (role === "front" ? sum + quantity : sum), 0);
  // The launch's counter without a lock, so that nobody waits: two who see the same last seat here are told apart at the
  // commit. Products in the order of their ids, so that two buyers of the same things cannot wait for one another.
  const rows = await prepared<{ id: string | null; name: string | null; seats: number | null; taken: string | null }>(
    tx,
    "seats_left",
    `with counted as (select id, name, seats from product where seats is not null and id = any(?::uuid[]) order by id for no key update)
     select id, name, seats, null::bigint as taken from counted union all select null, null, null, n from seats_taken where launch_id = ?`,
    [`{${items.map(({ productId }) => productId).join(",")}}`, launch.id],
  );
  const taken = Number(rows.find(({ id }) => id === null)?.taken ?? 0);
  if (seats !== null && wanted > 0 && taken + wanted > seats) throw seatGone("seat");
  const counted = rows.flatMap(({ id, name, seats: most }) => (id !== null ? [{ id, name: name!, seats: most! }] : []));
  for (const { id, name, seats: most } of counted) {
    const [row] = await tx.execute<{ n: string }[]>(`select ${takenOf} as n`, [id, id]);
    if (Number(row!.n) + more > most) throw seatGone(name);
  }
};

/** Runs a transaction that takes seats. The database itself counts them as it commits, and lets no more through than there are. */
export const withSeats = async <T>(em: EntityManager, work: (tx: EntityManager) => Promise<T>): Promise<T> => {
  try {
    return await em.transactional(work);
  } catch (error) {
    if (error instanceof Error && "code" in error && error.code === "IB001") throw seatGone("seat");
    throw error;
  }
};

type Limited = Pick<Product, "id" | "seats" | "limitPerPerson">;

const noneLeft = async (em: EntityManager, { id, seats }: Limited): Promise<boolean> => {
  if (!seats) return false;
  const [row] = await em.execute<{ n: string }[]>(`select ${takenOf} as n`, [id, id]);
  return Number(row!.n) >= seats;
};
/** How many pieces a person has of a product, bought by itself or in a bundle. */
const hasOf = async (em: EntityManager, personId: string, productId: string): Promise<number> => {
  const [row] = await em.execute<{ n: string }[]>(
    `select coalesce(sum(n.quantity), 0) as n from order_line n join sale_order s on s.id = n.order_id
     where s.person_id = ? and (n.product_id = ? or n.contents @> ?::jsonb) and n.role not in ('shipping', 'rebill')`,
    [personId, productId, JSON.stringify([{ id: productId }])],
  );
  return Number(row!.n);
};
const hasEnough = async (em: EntityManager, personId: string, { id, limitPerPerson }: Limited): Promise<boolean> =>
  limitPerPerson != null && (await hasOf(em, personId, id)) >= limitPerPerson;

/** Of these products, those that this person may not buy any more: there are none left, or they have as many as one person may. */
export const soldOutFor = async (em: EntityManager, personId: string, products: readonly Limited[]): Promise<Set<string>> => {
  const out = new Set<string>();
  for (const product of products) if ((await noneLeft(em, product)) || (await hasEnough(em, personId, product))) out.add(product.id);
  return out;
};

/** Refuses a checkout whose product is not sold at the moment, or of which this person would have more than one may. */
export const mustBeSold = async (
  em: EntityManager,
  { id, name, onSale, limitPerPerson }: Pick<Product, "id" | "name" | "onSale" | "limitPerPerson">,
  personId: string,
  quantity = 1,
): Promise<void> => {
  if (!onSale) throw new Refusal(409, "not_on_sale", `${name} is not sold at the moment. Nothing was charged.`);
  if (limitPerPerson == null) return;
  const has = await hasOf(em, personId, id);
  if (has + quantity <= limitPerPerson) return;
  const left = limitPerPerson - has;
  if (left > 0)
    throw new Refusal(
      409,
      "limit_reached",
      `One person may buy ${name} ${counted(limitPerPerson, "time")}; ${left} ${left === 1 ? "is" : "are"} left for you. Nothing was charged.`,
    );
  const often = limitPerPerson === 1 ? "and it is sold once to each person" : `as often as one person may, ${limitPerPerson} times`;
  throw new Refusal(409, "limit_reached", `You have ${name} already, ${often}. Nothing was charged.`);
};

/** Steps of a path that cannot be offered in an order: sold out, or bought as often as this person may. One that is being charged stays. */
export const closedSteps = async (
  em: EntityManager,
  order: Pick<Order, "personId" | "checkoutId">,
  steps: readonly OfferStep[],
): Promise<string[]> => {
  const limited = steps.filter(({ product }) => product.seats || product.limitPerPerson);
  if (limited.length === 0) return [];
  const charged = await em.execute<{ step_id: string }[]>(
    "select step_id from charge where checkout_id = ? and step_id is not null and state <> 'declined'",
    [order.checkoutId],
  );
  const open = limited.filter(({ id }) => !charged.some((row) => row.step_id === id));
  const out = await soldOutFor(
    em,
    order.personId,
    open.map(({ product }) => product),
  );
  return open.filter(({ product }) => out.has(product.id)).map(({ id }) => id);
};
