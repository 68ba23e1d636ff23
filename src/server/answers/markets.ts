import { listingStep } from "../../contract/markets";
import { deskLaunch } from "../launch";
import { type Answering, Refusal, answering, wrongField } from "../platform";
import { acceptTerms, beginTestOrder, setPicture, setRefundDays, submitListing } from "../markets";

export const marketAnswers: Answering[] = [
  answering(listingStep, async ({ app, em, user, params, body }) => {
    const context = await deskLaunch(em, params.slug);
    switch (params.step) {
      case "picture":
        return setPicture(app, em, user, context, Buffer.from(body.picture ?? "", "base64"));
      case "refund_window":
        if (body.days === undefined) throw wrongField("nothing_changed", "days", { code: "days_missing" });
        return setRefundDays(em, user, context, body.days);
      case "terms":
        return acceptTerms(app, em, user, context);
      case "test_order":
        return { href: await beginTestOrder(app, em, user, context) };
      case "submit":
        return submitListing(app, em, user, context);
      default:
        throw new Refusal({ code: "not_found", what: "step" });
    }
  }),
];
