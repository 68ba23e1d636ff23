import * as contract from "../../contract/emails";
import { inSequences } from "../../store/emails/sequences";
import { emailFigures } from "../../store/emails/emailFigures";
import { previewEmailTo, publishEmail, saveEmail, sendTestEmail } from "../emails";
import { deskLaunch } from "../launch";
import { answering, type Answering } from "../platform";

export const emailAnswers: Answering[] = [
  answering(contract.readEmailFigures, async ({ em, params, scope }) => {
    const { id } = (await deskLaunch(em, params.slug)).launch;
    return { figures: await emailFigures(em, id, scope.now), inSequences: await inSequences(em, id) };
  }),
  answering(contract.previewEmail, async ({ app, em, params, body }) =>
    previewEmailTo(app, em, await deskLaunch(em, params.slug), params.email, { readerId: body.to, draft: body.draft }),
  ),
  answering(contract.sendTestEmail, async ({ app, em, user, params, body }) =>
    sendTestEmail(app, em, user, await deskLaunch(em, params.slug), params.email, { readerId: body.to, draft: body.draft }),
  ),
  answering(contract.saveEmailDraft, async ({ em, user, params, body }) =>
    saveEmail(em, user, await deskLaunch(em, params.slug), params.email, body.content, body.version),
  ),
  answering(contract.publishEmail, async ({ app, em, user, params, body }) =>
    publishEmail(app, em, user, await deskLaunch(em, params.slug), params.email, body.version),
  ),
];
