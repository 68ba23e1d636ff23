import * as contract from "../../contract/emails";
import { emailFigures } from "../../store/emails/emailFigures";
import { previewEmailTo, sendTestEmail } from "../emails";
import { deskLaunch } from "../launch";
import { answering, type Answering } from "../platform";

export const emailAnswers: Answering[] = [
  answering(contract.readEmailFigures, async ({ em, params, scope }) => ({
    figures: await emailFigures(em, (await deskLaunch(em, params.slug)).launch.id, scope.now),
  })),
  answering(contract.previewEmail, async ({ app, em, params, body }) =>
    previewEmailTo(app, em, await deskLaunch(em, params.slug), params.email, body.to),
  ),
  answering(contract.sendTestEmail, async ({ app, em, user, params, body }) =>
    sendTestEmail(app, em, user, await deskLaunch(em, params.slug), params.email, body.to),
  ),
];
