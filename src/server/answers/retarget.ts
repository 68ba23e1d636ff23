import * as contract from "../../contract/retarget";
import { deskLaunch } from "../launch";
import { answering, type Answering } from "../platform";
import { audienceSizes } from "../retarget";

export const retargetAnswers: Answering[] = [
  answering(contract.audienceSizes, async ({ em, params, scope }) => ({
    audiences: await audienceSizes(em, { launchId: (await deskLaunch(em, params.slug)).launch.id, ...scope }),
  })),
];
