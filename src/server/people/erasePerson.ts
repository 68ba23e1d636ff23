import { createHmac, randomUUID } from "node:crypto";
import type { ErasureFacts } from "../../core/people";
import { lockContacts, otherAddresses } from "../../store/people/record/mergeContacts";
import { eraseContact, erasureFacts } from "../../store/people/record/erasePerson";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { type App, mustBeAllowed, Refusal } from "../platform";
import { contactOfPerson } from "./contactOfPerson";

/**
 * A keyed hash of an address (HMAC, RFC 2104, with SHA-256): it tells whether an address was erased, and nothing to whoever has not the
 * installation's secret.
 */
export const erasedHash = ({ config }: Pick<App, "config">, email: string): string =>
  createHmac("sha256", config.INKBELL_SECRET).update(`erased:${email}`).digest("hex");

/** What erasing a person would touch. */
export const erasureOf = async (em: EntityManager, user: DeskUser, personId: string): Promise<ErasureFacts> => {
  mustBeAllowed(user, "person.erase");
  const { id, email } = await contactOfPerson(em, personId);
  return erasureFacts(em, id, email);
};

/** Erases a person (GDPR, article 17). What orders must keep of their buyer stays, closed to all who do not keep the books. Refused while money of theirs is on its way. */
export const erasePerson = async (app: App, em: EntityManager, user: DeskUser, personId: string, now: Date): Promise<void> => {
  mustBeAllowed(user, "person.erase");
  await em.transactional(async (tx) => {
    // A payment or an opt-in that is on its way is waited for, and seen.
    await lockContacts(tx, [personId]);
    const { id, email } = await contactOfPerson(tx, personId);
    const { blocked } = await erasureFacts(tx, id, email);
    if (blocked) throw new Refusal({ code: "erasure_blocked", by: blocked });
    // Every address that leads to them goes.
    for (const one of [...(await otherAddresses(tx, id)), { id, personId, email }])
      await eraseContact(
        tx,
        { contactId: one.id, personId: one.personId, email: one.email, fresh: randomUUID(), hash: erasedHash(app, one.email) },
        now,
      );
  });
};
