import { fault } from "../../words";
import { z } from "zod";

/** The address of a page below its launch. */
export const pageAddress = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^[a-z0-9-]+(\/[a-z0-9-]+){0,2}$/, fault("page_address"))
  .max(80)
  .refine((text) => !/^(do|charge|frame|confirm|live)(\/|$)/.test(text), "This address is taken by the program.");
