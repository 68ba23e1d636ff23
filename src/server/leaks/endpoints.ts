import { setRecoveryDelay } from "../../contract/launches";
import { deskLaunch } from "../launch";
import { answering, type Answering } from "../platform";
import { setRecoveryDelay as setDelay } from "./setDelay";

export const leakEndpoints: Answering[] = [
  answering(setRecoveryDelay, async ({ em, user, params, body }) => {
    const { launch } = await deskLaunch(em, params.slug);
    await setDelay(em, user, launch.id, body.minutes);
  }),
];
