import * as contract from "../../contract/settings";
import { answering, keepSession, sessionToken, type Answering } from "../platform";
import {
  endOwnSessions,
  ownSessions,
  changeOwnPassword,
  changeRetention,
  changeMembership,
  endInvitation,
  invite,
  teamOf,
  changeSendingLimits,
  changeSigning,
  changeVendor,
} from "../settings";

export const settingsAnswers: Answering[] = [
  answering(contract.invite, async ({ app, em, user, body, now }) => {
    await invite(em, user, body, now);
    return teamOf(app.fork(), now);
  }),
  answering(contract.endInvitation, async ({ app, em, user, params, now }) => {
    await endInvitation(em, user, params.id, now);
    return teamOf(app.fork(), now);
  }),
  answering(contract.changeMembership, async ({ app, em, user, params, body, now }) => {
    await changeMembership(em, user, params.id, body, now);
    return teamOf(app.fork(), now);
  }),
  answering(contract.changeOwnPassword, async ({ app, em, user, body, visit }) => {
    keepSession(visit, "desk", await changeOwnPassword(app, em, user, body, visit.request.headers.get("user-agent") ?? ""));
  }),
  answering(contract.endOwnSessions, async ({ app, em, user, body, now, visit }) => {
    const token = sessionToken(visit, "desk");
    await endOwnSessions(em, user, body, token);
    return ownSessions(app.fork(), user, token, now);
  }),
  answering(contract.changeVendor, ({ app, em, user, body }) => changeVendor(app, em, user, body)),
  answering(contract.changeSendingLimits, ({ em, user, body, now }) => changeSendingLimits(em, user, body, now)),
  answering(contract.changeSigning, ({ app, em, user, body, now }) => changeSigning(app, em, user, body, now)),
  answering(contract.changeRetention, ({ em, user, body }) => changeRetention(em, user, body)),
];
