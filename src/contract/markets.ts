import { z } from "zod";
import { post } from "./endpoint";

const mib = 1024 * 1024;

/** A step of a listing: its picture, refund window, terms, test order, submission. A test order answers where it is placed. */
export const listingStep = post("[slug]/market/[step]", {
  permission: "listing.edit",
  request: z.object({
    days: z.coerce.number("Give a number of days.").int("Whole days.").min(0, "Not below zero.").max(365, "A year at most.").optional(),
    picture: z.base64().optional(),
  }),
  answer: z.object({ href: z.url().optional() }),
  // A picture comes along in base64.
  mostBytes: 12 * mib,
});
