import { z } from "zod";
import { get } from "./endpoint";

/** People of a launch by the beginning of their name or address. */
export const findPeople = get("[slug]/people", {
  request: z.object({ find: z.string().trim().min(2).max(80) }),
  answer: z.object({ people: z.array(z.object({ id: z.string(), name: z.string(), email: z.string() })) }),
});
/** How many people of a launch meet the condition that a sentence asks for. */
export const countPeople = get("[slug]/people/count", {
  refusals: ["condition"],
  request: z.object({ who: z.string().max(4_000) }),
  answer: z.object({ people: z.number() }),
});
/** What the clock of a launch knows of a person. */
export const personSeen = get("[slug]/people/[id]", {
  answer: z.object({
    person: z
      .object({
        name: z.string(),
        email: z.string(),
        starts: z.array(z.coerce.date()).readonly().optional(),
        stop: z.object({ at: z.coerce.date(), handedTo: z.string().optional() }).optional(),
        checkoutBegunAt: z.coerce.date().optional(),
        orderedAt: z.coerce.date().optional(),
        subscribedAt: z.coerce.date().optional(),
      })
      .nullable(),
  }),
});
