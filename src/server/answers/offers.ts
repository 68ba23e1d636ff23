import * as contract from "../../contract/offers";
import { deskLaunch } from "../launch";
import { answering, type Answering } from "../platform";
import { addCheckout, offersView, setAssumptions, changePath } from "../offers";

export const offerAnswers: Answering[] = [
  answering(contract.offersOfLaunch, async ({ em, params, now }) => offersView(em, await deskLaunch(em, params.slug), now)),
  answering(contract.changePath, async ({ app, em, user, params, body, now }) => {
    const slug = (await deskLaunch(em, params.slug)).launch.slug;
    await changePath(em, user, slug, body, now);
    const fresh = app.fork();
    return offersView(fresh, await deskLaunch(fresh, slug), now);
  }),
  answering(contract.setAssumptions, async ({ em, user, params, body }) =>
    setAssumptions(em, user, (await deskLaunch(em, params.slug)).launch.id, body.assumptions),
  ),
  answering(contract.addCheckout, ({ em, user, params, body, now }) => addCheckout(em, user, params.slug, body.product, now)),
];
