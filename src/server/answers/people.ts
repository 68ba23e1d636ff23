import * as contract from "../../contract/people";
import { peopleByName } from "../../store/people/peopleByName";
import { deskLaunch } from "../launch";
import { answering, type Answering } from "../platform";
import { countPeopleOfLaunch } from "../people";

export const peopleAnswers: Answering[] = [
  answering(contract.findPeople, async ({ em, params, body }) => ({
    people: await peopleByName(em, (await deskLaunch(em, params.slug)).launch.id, body.find),
  })),
  answering(contract.countPeople, async ({ em, params, body, scope }) => ({
    people: await countPeopleOfLaunch(em, await deskLaunch(em, params.slug), { sentence: body.who, ...scope }),
  })),
];
