import { z } from "zod";

/** A small product made where it is used: its name for the buyer, and its price as typed. */
export const smallProduct = z.object({
  name: z.string().trim().min(1, "Name what is offered, as the buyer will read it.").max(120, "120 characters at most."),
  price: z.string(),
});
