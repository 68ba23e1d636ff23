import type * as contract from "../../contract/delivery";
import type { AnswerOf, BodyOf } from "../../contract/endpoint";
import { type OwnedProduct, ownedProducts } from "../../core/delivery";
import { accessSources } from "../../store/delivery/accessSources";
import { contactOfPerson } from "../../store/people/persons";
import { lockContacts } from "../../store/people/record/mergeContacts";
import { AccessGrant, Product, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, required, wrongField } from "../platform";

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
  const contact = await contactOfPerson(em, personId);
  return { owned: contact ? await ownedBy(em, contact.id, asOf) : [], products: await grantable(em) };
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
  await em.transactional(async (tx) => {
    // Merged or erased at this very moment, they would have it at an address that is nobody's any more.
    await lockContacts(tx, [personId]);
    const { id: contactId } = required(await contactOfPerson(tx, personId), "person");
    required(await tx.findOne(Product, { id: product }), "product");
    const grant = { id: act, contactId, productId: product, fromAt: now, untilAt: until, reason, givenAt: now, givenBy: user.id };
    await tx.upsert(AccessGrant, grant, { onConflictAction: "ignore" });
  });
};

/** Ends access that was given without an order. Ended twice, it ended the first time. */
export const revokeAccess = async (
  em: EntityManager,
  user: DeskUser,
  { personId, grant, reason }: { personId: string; grant: string; reason: string },
  now: Date,
): Promise<void> => {
  mustBeAllowed(user, "access.grant");
  const { id: contactId } = required(await contactOfPerson(em, personId), "person");
  required(await em.findOne(AccessGrant, { id: grant, contactId }), "access");
  await em.nativeUpdate(AccessGrant, { id: grant, contactId, revokedAt: null }, { revokedAt: now, revokedBy: user.id, revokedBecause: reason });
};
