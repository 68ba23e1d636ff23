import { LockMode } from "@mikro-orm/core";
import { randomUUID } from "node:crypto";
import type { PersonRule, NewRule } from "../../contract/peopleRules";
import { conditionSentence, namedBy } from "../../core/conditions";
import { lookSince, whomToAsk } from "../../core/people";
import { changedPeople, dealtWith, dealWith } from "../../store/people/rules";
import { Launch, PeopleRule, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { type App, mustBeAllowed, required } from "../platform";
import { someConditionOf } from "./conditionOf";
import { conditionThings } from "./conditionThings";

const inOrder = (em: EntityManager): Promise<PeopleRule[]> => em.find(PeopleRule, {}, { orderBy: { createdAt: 1, id: 1 } });

/** The rules in the order in which they were made, each as its sentence and with how many people it has dealt with. */
export const listRules = async (em: EntityManager): Promise<PersonRule[]> => {
  const { names } = namedBy(await conditionThings(em));
  const people = await dealtWith(em);
  return (await inOrder(em)).map(({ id, condition, action, createdAt }) => ({
    id,
    who: conditionSentence(condition, names),
    action,
    createdAt,
    people: people[id] ?? 0,
  }));
};

/** Makes a rule. Whoever meets its condition by now is dealt with at once, or is left as they are. */
export const addRule = async (em: EntityManager, user: DeskUser, { who, action, everybody }: NewRule, now: Date): Promise<{ people: number }> => {
  mustBeAllowed(user, "person.edit");
  const condition = await someConditionOf(em, who);
  if (action.does === "leave") required(await em.findOne(Launch, { id: action.launch }), "launch");
  return em.transactional(async (tx) => {
    const rule = { id: randomUUID(), condition, action, createdAt: now, lookedAt: now, everybodyAt: now };
    await tx.insert(PeopleRule, rule);
    const people = await dealWith(tx, rule, everybody ? action : undefined, now);
    return { people: everybody ? people : 0 };
  });
};

/** Ends a rule. What it did stays. */
export const deleteRule = async (em: EntityManager, user: DeskUser, id: string): Promise<void> => {
  mustBeAllowed(user, "person.edit");
  await em.nativeDelete(PeopleRule, { id });
};

/**
 * Has every rule deal with those who meet its condition since it looked last: in the order in which the rules were made, each in a transaction of
 * its own that no other worker shares. Whom it has dealt with is written down with what it did, so that a crash repeats and omits nothing.
 */
export const runRules = async (app: App): Promise<void> => {
  const em = app.fork();
  const rules = await inOrder(em);
  if (rules.length === 0) return;
  const now = app.clock.now();
  const since = new Date(Math.min(...rules.map((rule) => lookSince(rule, now).getTime())));
  const changed = await changedPeople(em, since);
  for (const { id, ...progress } of rules) {
    if (whomToAsk(progress, changed?.length, now) === "nobody") continue;
    await em.fork().transactional(async (tx) => {
      const rule = await tx.findOne(PeopleRule, { id }, { lockMode: LockMode.PESSIMISTIC_PARTIAL_WRITE });
      if (!rule) return;
      const everybody = whomToAsk(rule, changed?.length, now) === "everybody";
      await dealWith(tx, rule, rule.action, now, everybody ? undefined : changed);
      rule.lookedAt = now;
      if (everybody) rule.everybodyAt = now;
    });
  }
};
