import * as contract from "../../contract/launches";
import { deskLaunch } from "../launch";
import { answering, type Answering } from "../platform";
import { copyLaunch } from "./copyLaunch";
import { createLaunch } from "./createLaunch";

export const startEndpoints: Answering[] = [
  answering(contract.createLaunch, async ({ em, user, body, now }) => {
    const { launch, remarks } = await createLaunch(em, user, body, now);
    return { slug: launch.slug, remarks };
  }),
  answering(contract.copyLaunch, async ({ em, user, params, body, now }) => copyLaunch(em, user, await deskLaunch(em, params.slug), body, now)),
];
