import { decideComment, sharePreview } from "../../contract/pages";
import { deskLaunch } from "../launch";
import { answering, type Answering } from "../platform";
import { sharePreview as share } from "./share";
import { decideComment as decide } from "./run";

export const siteEndpoints: Answering[] = [
  answering(decideComment, async ({ em, user, params, body, now }) => decide(em, user, (await deskLaunch(em, params.slug)).launch.id, body, now)),
  answering(sharePreview, async ({ app, em, user, params, now }) => ({ address: await share(app, em, user, params.id, now) })),
];
