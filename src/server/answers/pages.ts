import * as contract from "../../contract/pages";
import { setLook } from "../../contract/launches";
import { deskLaunch } from "../launch";
import { answering, answeringFile, type Answering, bodyOf } from "../platform";
import { exportPage, exportTemplate } from "../start";
import {
  addPage,
  copyPage,
  archivePage,
  deletePage,
  changeAddress,
  setLook as changeLook,
  changeMedia,
  notePresence,
  publishPage,
  publishPages,
  restoreVersion,
  saveDraft,
  versionsOf,
  dropTemplate,
  keepTemplate,
  addVariant,
  dropVariant,
  makeWinner,
  setWeights,
  upload,
} from "../pages";
import { decideComment, sharePreview } from "../../contract/pages";
import { sharePreview as share, decideComment as decide } from "../site";

export const pageAnswers: Answering[] = [
  answering(setLook, async ({ app, em, user, params, body }) =>
    changeLook(em, user, (await deskLaunch(em, params.slug)).launch.id, body, app.vendor.name),
  ),
  answering(contract.addPage, async ({ em, user, params, body }) => ({ id: (await addPage(em, user, await deskLaunch(em, params.slug), body)).id })),
  answering(contract.copyPage, async ({ em, user, params, body }) => {
    const { page, slug } = await copyPage(em, user, params.id, body);
    return { address: `/desk/${slug}/pages/${page.key}` };
  }),
  answering(contract.changeAddress, async ({ em, user, params, body, now }) => ({
    slug: (await changeAddress(em, user, params.id, body, now)).slug,
  })),
  answering(contract.uploadMedia, ({ app, em, user, body, now, visit }) => upload(app, em, user, body.name, bodyOf(visit.request), now)),
  answeringFile(contract.exportPage, ({ app, em, user, params }) => exportPage(app, em, user, params.id)),
  answeringFile(contract.exportTemplate, ({ app, em, user, params }) => exportTemplate(app, em, user, params.id)),
  answering(contract.archivePage, ({ em, user, params, body, now }) => archivePage(em, user, params.id, body.archived, now)),
  answering(contract.deletePage, ({ em, user, params }) => deletePage(em, user, params.id)),
  answering(contract.saveDraft, async ({ em, user, params, body, now }) => ({
    version: (await saveDraft(em, user, params.id, body.content, body.version, now)).version,
  })),
  answering(contract.notePresence, ({ em, user, params, now }) => notePresence(em, user, params.id, now)),
  answering(contract.publishPage, async ({ app, em, user, params, body, now }) => {
    await publishPage(em, user, params.id, app.vendor.name, now, body.version);
  }),
  answering(contract.publishPages, async ({ app, em, user, params, body, now }) => ({
    published: await publishPages(em, user, params.slug, body.pages, app.vendor.name, now),
  })),
  answering(contract.pageVersions, async ({ em, params }) => ({ versions: await versionsOf(em, params.id) })),
  answering(contract.restoreVersion, async ({ em, user, params, body, now }) => {
    const page = await restoreVersion(em, user, params.id, body.version, body.from, now);
    return { version: page.version, content: page.draft };
  }),
  answering(contract.addVariant, async ({ em, user, params }) => ({ key: (await addVariant(em, user, params.id)).key })),
  answering(contract.dropVariant, ({ em, user, params }) => dropVariant(em, user, params.id)),
  answering(contract.makeWinner, async ({ app, em, user, params, now }) => ({
    key: (await makeWinner(em, user, params.id, app.vendor.name, now)).key,
  })),
  answering(contract.setWeights, ({ em, user, params, body }) => setWeights(em, user, params.id, body)),
  answering(contract.keepTemplate, ({ em, user, body, now }) => keepTemplate(em, user, body, now)),
  answering(contract.dropTemplate, ({ em, user, params }) => dropTemplate(em, user, params.id)),
  answering(contract.changeMedia, ({ em, user, params, body }) => changeMedia(em, user, params.id, body)),
  answering(decideComment, async ({ em, user, params, body, now }) => decide(em, user, (await deskLaunch(em, params.slug)).launch.id, body, now)),
  answering(sharePreview, async ({ app, em, user, params, now }) => ({ address: await share(app, em, user, params.id, now) })),
];
