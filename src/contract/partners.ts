import { z } from "zod";
import { post } from "./endpoint";

export const decideApplication = post("[slug]/partners/decide", {
  refusals: ["decided"],
  permission: "partner.edit",
  request: z.object({
    id: z.uuid(),
    take: z.boolean(),
    /** What they earn of a sale, in per cent. */
    rate: z.coerce.number().min(0).max(100).default(0),
  }),
});
/** What the pages say in a partner's name to those who come by their link. */
export const setEndorsement = post("[slug]/partners/word", {
  permission: "partner.edit",
  request: z.object({
    partner: z.uuid(),
    name: z.string().trim().max(80),
    note: z.string().trim().max(600),
    media: z.uuid().nullable(),
  }),
});
