import * as contract from "../../contract/partners";
import { deskLaunch } from "../launch";
import { answering, type Answering } from "../platform";
import { decideApplication, setPartnerWord } from "../partners";

export const partnerAnswers: Answering[] = [
  answering(contract.decideApplication, ({ em, user, body, now }) => decideApplication(em, user, body, now)),
  answering(contract.setEndorsement, async ({ em, user, params, body, now }) =>
    setPartnerWord(em, user, (await deskLaunch(em, params.slug)).launch.id, body, now),
  ),
];
