import { randomUUID } from "node:crypto";
import { z } from "zod";
import { noticeName } from "../../core/launch";
import { email } from "../../core/people";
import { addNotice } from "../../store/people/personNotices";
import { addContact, addPerson, contactByEmail } from "../../store/people/persons";
import { Contact } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { App } from "../platform";
import { loadLaunch } from "./launchContext";
import { startClock } from "./persons";

const who = { email, first_name: z.string().trim().max(80).optional() };
const notice = z.discriminatedUnion("type", [
  z.object({ type: z.literal("clock.start"), data: z.object(who) }),
  z.object({ type: z.literal("person.notice"), data: z.object({ ...who, notice: noticeName }) }),
]);

/** The contact of an address; one that is not known yet is made without consent. */
const contactOf = async (
  tx: EntityManager,
  { email, first_name: firstName }: { email: string; first_name?: string },
  now: Date,
): Promise<Contact> => {
  if ((await tx.count(Contact, { email, test: false })) === 0) {
    const personId = randomUUID();
    await addPerson(tx, personId, now);
    await addContact(tx, { id: randomUUID(), personId, email, firstName: firstName ?? "" }, now);
  }
  return (await contactByEmail(tx, email))!;
};

/**
 * Takes what an outside tool says of a person (a verified notice): their clock starts, or a moment has come from which sequences count. An address that
 * is not known yet becomes a contact without consent: it has a clock and a record, and gets no emails. Answers what came of it, for the record.
 */
export const applyOutsideNotice =
  (launchId: string) =>
  async (app: App, body: unknown): Promise<string> => {
    const read = notice.safeParse(body);
    if (!read.success) return "not understood";
    const now = app.clock.now();
    return app.fork().transactional(async (tx) => {
      if (read.data.type === "person.notice") {
        const { data } = read.data;
        const contact = await contactOf(tx, data, now);
        await addNotice(tx, { launchId, contactId: contact.id, name: data.notice }, now);
        return `noted: ${data.notice}`;
      }
      const context = (await loadLaunch(tx, { id: launchId }))!;
      const { clock } = context.plan;
      if (clock.kind !== "personal" || clock.trigger.on !== "webhook") return "this launch's clock is not started by notices";
      const contact = await contactOf(tx, read.data.data, now);
      return (await startClock(tx, context, contact.personId, "webhook", now)) ? "started" : "runs already, or may not start again";
    });
  };
