import { z } from "zod";
import { get } from "./endpoint";

const country = z.object({ country: z.string(), people: z.number(), addresses: z.number() });

/** How many people each audience of a launch holds, country by country. */
export const audienceSizes = get("[slug]/audiences", {
  answer: z.object({ audiences: z.array(z.object({ key: z.string(), countries: z.array(country) })) }),
});
