import * as contract from "../../contract/people";
import { peopleByName } from "../../store/people/find/peopleByName";
import { deskLaunch } from "../launch";
import { answering, answeringFile, type Answering } from "../platform";
import {
  changeFilter,
  countFilters,
  correctPerson,
  countPeopleOfLaunch,
  deleteFilter,
  erasePerson,
  erasureOf,
  exportPerson,
  knownWords,
  listFilters,
  listPeople,
  mergeOf,
  mergePeople,
  optOutOfLaunch,
  personRecordOf,
  saveFilter,
  resumeEmailsTo,
  stopEmailsTo,
  tagAllPeople,
  tagPeople,
} from "../people";

export const peopleAnswers: Answering[] = [
  answering(contract.listPeople, ({ em, body, scope }) => listPeople(em, body, scope)),
  answering(contract.readPerson, ({ em, params, scope }) => personRecordOf(em, params.id, scope.now)),
  answeringFile(contract.exportPerson, ({ em, user, params, now }) => exportPerson(em, user, params.id, now)),
  answering(contract.correctPerson, ({ em, user, params, body, now }) => correctPerson(em, user, params.id, body, now)),
  answering(contract.readMerge, ({ em, user, params, body }) => mergeOf(em, user, params.id, body.with)),
  answering(contract.mergePeople, ({ em, user, params, body, now }) => mergePeople(em, user, params.id, body.with, now)),
  answering(contract.readErasure, ({ em, user, params }) => erasureOf(em, user, params.id)),
  answering(contract.erasePerson, ({ app, em, user, params, now }) => erasePerson(app, em, user, params.id, now)),
  answering(contract.optOutOfLaunch, ({ em, user, params, body, now }) => optOutOfLaunch(em, user, { ...params, ...body }, now)),
  answering(contract.resumeEmailsTo, ({ em, user, params }) => resumeEmailsTo(em, user, params.id)),
  answering(contract.stopEmailsTo, ({ em, user, params, now }) => stopEmailsTo(em, user, params.id, now)),
  answering(contract.tagPeople, async ({ em, user, body, now }) => ({ n: await tagPeople(em, user, body, now) })),
  answering(contract.tagAllPeople, async ({ em, user, body, now }) => ({ n: await tagAllPeople(em, user, body, now) })),
  answering(contract.knownWords, ({ em }) => knownWords(em)),
  answering(contract.listFilters, async ({ em }) => ({ filters: await listFilters(em) })),
  answering(contract.countFilters, async ({ em, scope }) => ({ people: await countFilters(em, scope) })),
  answering(contract.saveFilter, ({ em, user, body, now }) => saveFilter(em, user, body, now)),
  answering(contract.changeFilter, ({ em, user, params, body }) => changeFilter(em, user, params.id, body)),
  answering(contract.deleteFilter, ({ em, user, params }) => deleteFilter(em, user, params.id)),
  answering(contract.findPeople, async ({ em, params, body }) => ({
    people: await peopleByName(em, (await deskLaunch(em, params.slug)).launch.id, body.find),
  })),
  answering(contract.countPeople, async ({ em, params, body, scope }) => ({
    people: await countPeopleOfLaunch(em, await deskLaunch(em, params.slug), { sentence: body.who, ...scope }),
  })),
];
