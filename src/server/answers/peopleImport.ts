import * as contract from "../../contract/peopleImport";
import { answering, type Answering, bodyOf } from "../platform";
import { cancelImport, checkImport, importRecord, runImport, startImport } from "../people";

export const peopleImportAnswers: Answering[] = [
  answering(contract.startImport, ({ app, em, user, body, now, visit }) => startImport(app, em, user, body.name, bodyOf(visit.request), now)),
  answering(contract.readImport, ({ em, params }) => importRecord(em, params.id)),
  answering(contract.checkImport, ({ em, user, params, body, now }) => checkImport(em, user, params.id, body, now)),
  answering(contract.runImport, ({ em, user, params, now }) => runImport(em, user, params.id, now)),
  answering(contract.cancelImport, ({ em, user, params, now }) => cancelImport(em, user, params.id, now)),
];
