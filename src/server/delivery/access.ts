import type * as contract from "../../contract/delivery";
import type { AnswerOf, BodyOf } from "../../contract/endpoint";
import { type OwnedProduct, ownedProducts } from "../../core/delivery";
import { accessSources } from "../../store/delivery/accessSources";
import { AccessGrant, Contact, Product, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, required, wrongField } from "../platform";

/** The contact that a person is reached by, if any. */
const contactIdOf = async (em: EntityManager, personId: string): Promise<string | undefined> =>
  (await em.findOne(Contact, { personId, test: false, erasedAt: null, mergedInto: null }))?.id;

/** What somebody owns or owned, as of an instant: from their orders, every movement of money on them, and what was given besides. */
export const ownedBy = async (em: EntityManager, contactId: string, asOf: Date): Promise<OwnedProduct[]> => {
  const { sources, names } = await accessSources(em, [contactId]);
  return ownedProducts(sources, names, asOf);
};

/** The products that access can be given to, as the desk knows them. */
export const grantable = async (em: EntityManager): Promise<{ id: string; name: string }[]> =>
  (await em.find(Product, {}, { orderBy: { name: 1 } })).map(({ id, name, privateLabel }) => ({
    id,
    name: privateLabel ? `${name} (${privateLabel})` : name,
  }));

/** The same of a person, for the desk, with the products that can be given to them. Nothing of whoever gave no address. */
export const accessOfPerson = async (em: EntityManager, personId: string, asOf: Date): Promise<AnswerOf<typeof contract.readAccess>> => {
  const contactId = await contactIdOf(em, personId);
  return { owned: contactId ? await ownedBy(em, contactId, asOf) : [], products: await grantable(em) };
};

/** Gives access without an order. Pressed twice, it is given once. */
export const grantAccess = async (
  em: EntityManager,
  user: DeskUser,
  personId: string,
  { act, product, until, reason }: BodyOf<typeof contract.grantAccess>,
  now: Date,
): Promise<void> => {
  mustBeAllowed(user, "access.grant");
  if (until && until <= now) throw wrongField("nothing_changed", "until", { code: "access_until_past" });
  const contactId = required(await contactIdOf(em, personId), "person");
  required(await em.findOne(Product, { id: product }), "product");
  await em.upsert(
    AccessGrant,
    { id: act, contactId, productId: product, fromAt: now, untilAt: until, reason, givenAt: now, givenBy: user.id },
    { onConflictAction: "ignore" },
  );
};

/** Ends access that was given without an order. Ended twice, it ended the first time. */
export const revokeAccess = async (
  em: EntityManager,
  user: DeskUser,
  { personId, grant, reason }: { personId: string; grant: string; reason: string },
  now: Date,
): Promise<void> => {
  mustBeAllowed(user, "access.grant");
  const contactId = required(await contactIdOf(em, personId), "person");
  required(await em.findOne(AccessGrant, { id: grant, contactId }), "access");
  await em.nativeUpdate(AccessGrant, { id: grant, contactId, revokedAt: null }, { revokedAt: now, revokedBy: user.id, revokedBecause: reason });
};
