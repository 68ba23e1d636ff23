import { z } from "zod";

/** The address of a page below its launch. */
export const pageAddress = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^[a-z0-9-]+(\/[a-z0-9-]+){0,2}$/, "Letters, digits and hyphens; a slash makes a folder, such as bonus/pattern-one.")
  .max(80, "80 characters at most.")
  .refine((text) => !/^(do|charge|frame|confirm|live)(\/|$)/.test(text), "This address is taken by the program.");
