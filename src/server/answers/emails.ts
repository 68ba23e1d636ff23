import * as contract from "../../contract/emails";
import { sequencePeople, stepsSent } from "../../store/emails/sequences/sequenceFigures";
import { emailFigures, linkFigures, variantFigures } from "../../store/emails/emailFigures";
import {
  addOneOff,
  addVariant,
  dropEmailTemplate,
  holdOneOff,
  keepEmailTemplate,
  listEmailTemplates,
  listOneOffs,
  movedClosing,
  previewEmailTo,
  publishEmail,
  recipientsOf,
  removeOneOff,
  removeVariant,
  saveEmail,
  saveOneOff,
  scheduleOneOff,
  sendTestEmail,
  weighVariant,
} from "../emails";
import { deskLaunch } from "../launch";
import { answering, type Answering } from "../platform";

export const emailAnswers: Answering[] = [
  answering(contract.readEmailFigures, async ({ em, params, scope }) => {
    const { id } = (await deskLaunch(em, params.slug)).launch;
    return {
      figures: await emailFigures(em, id, scope.now),
      variants: await variantFigures(em, id, scope.now),
      inSequences: await sequencePeople(em, id),
      steps: await stepsSent(em, id, scope.now),
    };
  }),
  answering(contract.readLinkFigures, async ({ em, params, scope }) => {
    const { id } = (await deskLaunch(em, params.slug)).launch;
    return { links: await linkFigures(em, id, params.email, scope.now) };
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
  answering(contract.varyEmail, async ({ em, user, params, body }) =>
    (body.to === "add" ? addVariant : removeVariant)(em, user, await deskLaunch(em, params.slug), params.email),
  ),
  answering(contract.weighEmail, async ({ em, user, params, body }) =>
    weighVariant(em, user, await deskLaunch(em, params.slug), params.email, body.second),
  ),
  answering(contract.listEmailTemplates, async ({ em }) => ({ templates: await listEmailTemplates(em) })),
  answering(contract.keepEmailTemplate, async ({ em, user, params, body, now }) =>
    keepEmailTemplate(em, user, await deskLaunch(em, params.slug), params.email, body.name, now),
  ),
  answering(contract.dropEmailTemplate, async ({ em, user, params }) => dropEmailTemplate(em, user, params.id)),
  answering(contract.listOneOffs, async ({ em, params }) => ({ oneOffs: await listOneOffs(em, await deskLaunch(em, params.slug)) })),
  answering(contract.addOneOff, async ({ em, user, params, body, now }) => addOneOff(em, user, await deskLaunch(em, params.slug), body.about, now)),
  answering(contract.readMovedClosing, async ({ em, params, now }) => movedClosing(em, await deskLaunch(em, params.slug), now)),
  answering(contract.countRecipients, async ({ em, params, body, now }) => recipientsOf(em, await deskLaunch(em, params.slug), body.who, now)),
  answering(contract.saveOneOff, async ({ em, user, params, body: { version, ...draft } }) =>
    saveOneOff(em, user, await deskLaunch(em, params.slug), params.id, draft, version),
  ),
  answering(contract.scheduleOneOff, async ({ em, user, params, body, now }) =>
    scheduleOneOff(em, user, await deskLaunch(em, params.slug), params.id, body.version, now),
  ),
  answering(contract.holdOneOff, async ({ em, user, params, body, now }) =>
    holdOneOff(em, user, await deskLaunch(em, params.slug), params.id, body.to, now),
  ),
  answering(contract.removeOneOff, async ({ em, user, params }) => removeOneOff(em, user, await deskLaunch(em, params.slug), params.id)),
];
