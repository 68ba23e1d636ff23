import * as contract from "../../contract/delivery";
import { accessOfPerson, grantAccess, revokeAccess } from "../delivery";
import { answering, type Answering } from "../platform";

export const deliveryAnswers: Answering[] = [
  answering(contract.readAccess, ({ em, params, scope }) => accessOfPerson(em, params.id, scope.now)),
  answering(contract.grantAccess, ({ em, user, params, body, now }) => grantAccess(em, user, params.id, body, now)),
  answering(contract.revokeAccess, ({ em, user, params, body, now }) =>
    revokeAccess(em, user, { personId: params.id, grant: params.grant, reason: body.reason }, now),
  ),
];
