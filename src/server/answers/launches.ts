import * as contract from "../../contract/launches";
import { personSeen } from "../../contract/people";
import { momentsOf } from "../../store/emails/sequences/sequences";
import { answering, answeringFile, type Answering, bodyOf } from "../platform";
import { archiveLaunch, deleteLaunch, changeSettings, summariseChange, undoChange, deskLaunch, hookSecret, viewerOfContact } from "../launch";
import { copyLaunch, createLaunch, exportLaunch, importFile } from "../start";
import { setRecoveryDelay as setDelay } from "../leaks";

export const launchAnswers: Answering[] = [
  answering(contract.archiveLaunch, async ({ em, user, params, body, now }) =>
    archiveLaunch(em, user, await deskLaunch(em, params.slug), body.archived, now),
  ),
  answeringFile(contract.exportLaunch, async ({ app, em, user, params }) => exportLaunch(app, em, user, await deskLaunch(em, params.slug))),
  answering(contract.importFile, ({ app, em, user, body, now, visit }) => importFile(app, em, user, bodyOf(visit.request), body, now)),
  answering(contract.deleteLaunch, async ({ em, user, params }) => deleteLaunch(em, user, await deskLaunch(em, params.slug))),
  answering(contract.summariseChange, async ({ em, params, body, now }) =>
    summariseChange(em, await deskLaunch(em, params.slug), body.settings, now),
  ),
  answering(contract.changeSettings, async ({ em, user, params, body, now }) => ({
    version: await changeSettings(em, user, await deskLaunch(em, params.slug), body, now),
  })),
  answering(contract.undoChange, async ({ em, user, params, now }) => {
    const what = await undoChange(em, user, await deskLaunch(em, params.slug), now);
    em.clear();
    const { launch } = await deskLaunch(em, params.slug);
    return { what, settings: launch.settings, version: launch.version };
  }),
  answering(contract.clockSecret, async ({ em, user, params, body }) => ({ secret: await hookSecret(em, user, params.slug, body.renew) })),
  answering(personSeen, async ({ em, params }) => {
    const context = await deskLaunch(em, params.slug);
    const person = await viewerOfContact(em, context, params.id);
    return { person: person ? { ...person, moments: await momentsOf(em, context.launch.id, params.id) } : null };
  }),
  answering(contract.createLaunch, async ({ em, user, body, now }) => {
    const { launch, remarks } = await createLaunch(em, user, body, now);
    return { slug: launch.slug, remarks };
  }),
  answering(contract.copyLaunch, async ({ em, user, params, body, now }) => copyLaunch(em, user, await deskLaunch(em, params.slug), body, now)),
  answering(contract.setRecoveryDelay, async ({ em, user, params, body }) => {
    const { launch } = await deskLaunch(em, params.slug);
    await setDelay(em, user, launch.id, body.minutes);
  }),
];
