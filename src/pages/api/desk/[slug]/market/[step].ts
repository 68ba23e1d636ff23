import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint, Refusal } from "../../../../../server/platform";
import { deskLaunch } from "../../../../../server/launch";
import { acceptTerms, beginTestOrder, setPicture, setRefundDays, submitListing } from "../../../../../server/markets";

const request = z.object({
  days: z.coerce.number("Give a number of days.").int("Whole days.").min(0, "Not below zero.").max(365, "A year at most.").optional(),
  picture: z.base64().optional(),
});

/** The steps of a listing: picture, refund window, terms, test order, submission. */
export const POST: APIRoute = deskEndpoint(request, async ({ app, em, user, body, params }) => {
  const context = await deskLaunch(em, params["slug"]);
  switch (params["step"]) {
    case "picture":
      return setPicture(app, em, user, context, Buffer.from(body.picture ?? "", "base64"));
    case "refund_window":
      if (body.days === undefined) throw new Refusal(422, "fields", "Give a number of days.", { days: "Give a number of days." });
      return setRefundDays(em, user, context, body.days);
    case "terms":
      return acceptTerms(app, em, user, context);
    case "test_order":
      return { href: await beginTestOrder(app, em, user, context) };
    case "submit":
      return submitListing(app, em, user, context);
    default:
      throw new Refusal(404, "not_found", "There is no such step.");
  }
});
