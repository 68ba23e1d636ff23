import { fault } from "../core/words";
import { z } from "zod";
import { post } from "./endpoint";

const mib = 1024 * 1024;

/** A step of a listing: its picture, refund window, terms, test order, submission. A test order answers where it is placed. */
export const listingStep = post("[slug]/market/[step]", {
  refusals: ["marketplace", "wrong_state", "already_submitted", "gaps_open", "pages_missing"],
  permission: "listing.edit",
  request: z.object({
    days: z.coerce.number(fault("days_missing")).int().min(0).max(365).optional(),
    picture: z.base64().optional(),
  }),
  answer: z.object({ href: z.url().optional() }),
  // A picture comes along in base64.
  mostBytes: 12 * mib,
});
