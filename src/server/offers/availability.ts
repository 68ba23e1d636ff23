import { chargedSteps, countedPieces, piecesOfPerson, piecesTaken } from "../../store/products/pieces";
import type { ChargeItem } from "../../core/offers";
import type { Order, Product } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { Refusal } from "../platform";
import type { LaunchContext, OfferStep } from "../launch";

const seatGone = (name: string) => new Refusal({ code: "seats_taken", product: name });

/**
 * Refuses a charge beyond the last seat of the launch, or beyond what there is of a product. Called last before the
 * commit, because every buyer waits for these rows. `more` are pieces of a product that are not written down yet.
 */
export const mustHaveSeat = async (tx: EntityManager, { plan, launch }: LaunchContext, items: readonly ChargeItem[], more = 0): Promise<void> => {
  const { seats } = plan.settings;
  const wanted = items.reduce((sum, { role, quantity = 1 }) => (role === "front" ? sum + quantity : sum), 0);
  const { taken, products } = await countedPieces(
    tx,
    launch.id,
    items.map(({ productId }) => productId),
  );
  if (seats !== null && wanted > 0 && taken + wanted > seats) throw seatGone("seat");
  for (const { id, name, seats: most } of products) if ((await piecesTaken(tx, id)) + more > most) throw seatGone(name);
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

const noneLeft = async (em: EntityManager, { id, seats }: Limited): Promise<boolean> => Boolean(seats) && (await piecesTaken(em, id)) >= seats!;
const hasEnough = async (em: EntityManager, personId: string, { id, limitPerPerson }: Limited): Promise<boolean> =>
  limitPerPerson != null && (await piecesOfPerson(em, personId, id)) >= limitPerPerson;

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
  if (!onSale) throw new Refusal({ code: "not_on_sale", product: name });
  if (limitPerPerson == null) return;
  const has = await piecesOfPerson(em, personId, id);
  if (has + quantity <= limitPerPerson) return;
  const left = limitPerPerson - has;
  if (left > 0) throw new Refusal({ code: "limit_reached", product: name, most: limitPerPerson, left });
  throw new Refusal({ code: "limit_reached", product: name, most: limitPerPerson, left: 0 });
};

/** Steps of a path that cannot be offered in an order: sold out, or bought as often as this person may. One that is being charged stays. */
export const closedSteps = async (
  em: EntityManager,
  order: Pick<Order, "personId" | "checkoutId">,
  steps: readonly OfferStep[],
): Promise<string[]> => {
  const limited = steps.filter(({ product }) => product.seats || product.limitPerPerson);
  if (limited.length === 0) return [];
  const charged = await chargedSteps(em, order.checkoutId);
  const open = limited.filter(({ id }) => !charged.has(id));
  const out = await soldOutFor(
    em,
    order.personId,
    open.map(({ product }) => product),
  );
  return open.filter(({ product }) => out.has(product.id)).map(({ id }) => id);
};
