import { z } from "zod";
import { type Access, accessChanges, accessEnds, type AccessSource, accessTo, graceDays, productsIn } from "./access";

const instant = z.coerce.date();

/** What opens a product to somebody, or opened it: an order, or access that was given without one. */
const accessVia = z.discriminatedUnion("kind", [
  z.object({
    kind: z.literal("order"),
    id: z.string(),
    number: z.number(),
    /** The payment is only held on the card. */
    authorized: z.boolean(),
    test: z.boolean(),
  }),
  z.object({ kind: z.literal("grant"), id: z.string(), reason: z.string(), revokedBecause: z.string().nullable() }),
]);
export type AccessVia = z.infer<typeof accessVia>;

/** A product that somebody owns or owned: whether it is open to them, why, and every change so far. */
export const ownedProduct = z.object({
  id: z.string(),
  product: z.string(),
  open: z.boolean(),
  /** Until when it is open; null for good, and where it is closed. */
  until: instant.nullable(),
  /** Open as long as payments go on. */
  whilePaid: z.boolean(),
  /** A payment was due and is not made yet: then it closes at `until`. */
  late: z.boolean(),
  /** Why it is closed; null where it is open. */
  because: z.enum(accessEnds).nullable(),
  via: accessVia,
  /** The oldest first. */
  log: z.array(z.object({ at: instant, open: z.boolean(), because: z.enum(accessEnds).nullable(), via: accessVia })),
});
export type OwnedProduct = z.infer<typeof ownedProduct>;

/** What names sources of access to people: products by their ids, and numbers of orders by theirs. */
export interface AccessNames {
  products: ReadonlyMap<string, string>;
  orders: ReadonlyMap<string, number>;
}

const viaOf = (source: AccessSource, { orders }: AccessNames): AccessVia =>
  source.kind === "grant"
    ? { kind: "grant", id: source.id, reason: source.reason, revokedBecause: source.revokedBecause }
    : { kind: "order", id: source.orderId, number: orders.get(source.orderId) ?? 0, authorized: source.authorized, test: source.test };

const becauseOf = (access: Access) => (access.open ? null : access.because);

/** Whether a source is open only because payments go on, as of an instant: neither all paid nor ended. */
const paysOn = (source: AccessSource, at: Date): boolean => {
  const ended = source.kind === "purchase" ? source.recurring?.endedAt : null;
  return source.kind === "purchase" && source.recurring !== null && !(ended && ended <= at);
};

/** Every product that was ever open to somebody, as of an instant, what was opened last first. */
export const ownedProducts = (sources: readonly AccessSource[], names: AccessNames, asOf: Date): OwnedProduct[] =>
  productsIn(sources)
    .flatMap((id): OwnedProduct[] => {
      const access = accessTo(sources, id, graceDays, asOf);
      const changes = accessChanges(sources, id, graceDays, asOf);
      if (!access || changes.length === 0) return [];
      const log = changes.map((change) => ({ at: change.at, open: change.open, because: becauseOf(change), via: viaOf(change.source, names) }));
      const product = names.products.get(id) ?? "";
      const until = access.open ? access.until : null;
      const whilePaid = access.open && paysOn(access.source, asOf);
      return [
        {
          id,
          product,
          open: access.open,
          until,
          whilePaid,
          late: access.open && access.late,
          because: becauseOf(access),
          via: viaOf(access.source, names),
          log,
        },
      ];
    })
    .sort((a, b) => lastOpened(b) - lastOpened(a) || (a.product < b.product ? -1 : 1));

const lastOpened = ({ log }: OwnedProduct): number => log.findLast(({ open }) => open)!.at.getTime();
