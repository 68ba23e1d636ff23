import { addContact, addPerson, contactByEmail } from "../../store/people/persons";
import { z } from "zod";
import { email } from "../../core/people";
import { Contact } from "../../store/tables";
import type { App } from "../platform";
import { loadLaunch } from "./launchContext";
import { startClock } from "./persons";
import { randomUUID } from "node:crypto";

const notice = z.object({
  type: z.literal("clock.start"),
  data: z.object({ email, first_name: z.string().trim().max(80).optional() }),
});

/**
 * Starts a person's clock on the word of an outside tool (a verified notice). An address that is not known yet becomes
 * a contact without consent: it has a clock, and gets no emails. Answers what came of it, for the record.
 */
export const applyClockNotice =
  (launchId: string) =>
  async (app: App, body: unknown): Promise<string> => {
    const read = notice.safeParse(body);
    if (!read.success) return "not understood";
    const now = app.clock.now();
    return app.fork().transactional(async (em) => {
      const context = await loadLaunch(em, { id: launchId });
      const { clock } = context!.plan;
      if (clock.kind !== "personal" || clock.trigger.on !== "webhook") return "this launch's clock is not started by notices";
      const { data } = read.data;
      if ((await em.count(Contact, { email: data.email, test: false })) === 0) {
        const personId = randomUUID();
        await addPerson(em, personId, now);
        await addContact(em, { id: randomUUID(), personId, email: data.email, firstName: data.first_name ?? "" }, now);
      }
      const contact = (await contactByEmail(em, data.email))!;
      return (await startClock(em, context!, contact.personId, "webhook", now)) ? "started" : "runs already, or may not start again";
    });
  };
