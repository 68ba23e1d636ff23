import { z } from "zod";
import { post } from "./endpoint";

export const decideApplication = post("[slug]/partners/decide", {
  permission: "partner.edit",
  request: z.object({
    id: z.uuid(),
    take: z.boolean(),
    /** What they earn of a sale, in per cent. */
    rate: z.coerce.number("A number, such as 40.").min(0, "Not below zero.").max(100, "100 % at most.").default(0),
  }),
});
/** What the pages say in a partner's name to those who come by their link. */
export const setEndorsement = post("[slug]/partners/word", {
  permission: "partner.edit",
  request: z.object({
    partner: z.uuid(),
    name: z.string().trim().max(80, "80 characters at most."),
    note: z.string().trim().max(600, "600 characters at most."),
    media: z.uuid().nullable(),
  }),
});
