import * as contract from "../../contract/partners";
import { deskLaunch } from "../launch";
import { answering, type Answering } from "../platform";
import { decideApplication } from "./applications";
import { setPartnerWord } from "./words";

export const partnerEndpoints: Answering[] = [
  answering(contract.decideApplication, ({ em, user, body, now }) => decideApplication(em, user, body, now)),
  answering(contract.setEndorsement, async ({ em, user, params, body, now }) =>
    setPartnerWord(em, user, (await deskLaunch(em, params.slug)).launch.id, body, now),
  ),
];
