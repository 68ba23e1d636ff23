import { type Faults } from "../../core/words";
import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/launches";
import { peopleToTell } from "../../store/launch/peopleToTell";
import { randomUUID } from "node:crypto";
import { ChangeSummariser, handOverLoop, planOf, settingFaults, toldOtherOf, type ChangeSummary, type LaunchSettings } from "../../core/launch";
import { Launch, LaunchChange, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { otherClosings } from "../../store/emails/statedClosings";
import { clockStarts } from "../../store/launch/clockStarts";
import { Refusal, mustBeAllowed, queue, wrongFields } from "../platform";
import { mustNotBeArchived } from "./archiveLaunch";
import { launchChanged, type LaunchContext } from "./launchContext";
import { scheduleBells } from "./runBells";

/** Refuses settings that do not fit, field by field; a hand-over that would come round is named launch by launch. */
const mustFit = async (em: EntityManager, { launch, source }: LaunchContext, settings: LaunchSettings): Promise<void> => {
  const found = Object.entries(settingFaults({ ...source, settings }));
  const fields: Faults = Object.fromEntries(found.map(([path, fault]) => [`settings.${path}`, fault]));
  const others = await em.find(Launch, { id: { $ne: launch.id } });
  const names = new Map([...others.map((other) => [other.id, other.name] as const), [launch.id, launch.name] as const]);
  const handsTo = (of: LaunchSettings) => of.stops.flatMap(({ handTo }) => (handTo ? [handTo] : []));
  const all = [...others.map((other) => ({ launch: other.id, handsTo: handsTo(other.settings) })), { launch: launch.id, handsTo: handsTo(settings) }];
  const loop = handOverLoop(all, launch.id);
  settings.stops.forEach(({ handTo }, index) => {
    if (handTo && !names.has(handTo)) fields[`settings.stops.${index}.handTo`] = { code: "no_such_launch" };
    else if (handTo && loop?.[1] === handTo)
      fields[`settings.stops.${index}.handTo`] = { code: "hand_over_loop", through: loop.map((id) => names.get(id) ?? "") };
  });
  if (Object.keys(fields).length > 0) throw wrongFields("nothing_changed", fields);
};

/** What a change would do, in numbers. Writes nothing. */
export const summariseChange = async (em: EntityManager, context: LaunchContext, settings: LaunchSettings, now: Date): Promise<ChangeSummary> => {
  await mustFit(em, context, settings);
  const change = new ChangeSummariser(context.source, settings, now);
  if (change.personal)
    for await (const people of clockStarts(em, context.launch.id, now))
      for (const { starts, stopped } of people) if (!stopped) change.count({ starts });
  const summary = change.summary(await peopleToTell(em, { launchId: context.launch.id, now }));
  const [held, asked] = [context.plan, planOf({ ...context.source, settings })].map((plan) => toldOtherOf(plan, context.launch.id, now));
  if (!asked || held?.than === asked.than) return summary;
  return { ...summary, told: (await otherClosings(em, asked, now)).reduce((sum, { people }) => sum + people, 0) };
};

const write = async (
  em: EntityManager,
  user: DeskUser,
  context: LaunchContext,
  { settings, version, what }: BodyOf<typeof contract.changeSettings>,
  now: Date,
): Promise<number> =>
  em.transactional(async (tx) => {
    mustNotBeArchived(context.launch);
    await mustFit(tx, context, settings);
    const changed = await tx.nativeUpdate(Launch, { id: context.launch.id, version }, { settings, version: version + 1 });
    if (changed === 0) throw new Refusal({ code: "changed_meanwhile", what: "clock" });
    tx.persist(
      tx.create(LaunchChange, {
        id: randomUUID(),
        launchId: context.launch.id,
        userId: user.id,
        at: now,
        what,
        before: context.launch.settings,
        version: version + 1,
        undone: false,
      }),
    );
    await tx.flush();
    tx.clear();
    await scheduleBells(tx, context.launch.id, now);
    // Emails on personal clocks, and last calls, wait under due times of the old settings.
    await queue(tx, "reschedule_emails", { id: context.launch.id }, now, `hang:${context.launch.id}`);
    await launchChanged(tx);
    return version + 1;
  });

/** Changes the settings of a launch; the version before is kept. Answers the new version. */
export const changeSettings = async (
  em: EntityManager,
  user: DeskUser,
  context: LaunchContext,
  request: BodyOf<typeof contract.changeSettings>,
  now: Date,
): Promise<number> => {
  mustBeAllowed(user, "launch.edit");
  return write(em, user, context, request, now);
};

/** Brings back what was before the newest change that is not undone. Answers what was undone. */
export const undoChange = async (em: EntityManager, user: DeskUser, context: LaunchContext, now: Date): Promise<string> => {
  mustBeAllowed(user, "launch.edit");
  const [last] = await em.find(LaunchChange, { launchId: context.launch.id, undone: false }, { orderBy: { version: -1 }, limit: 1 });
  if (!last) throw new Refusal({ code: "nothing_to_undo" });
  await em.transactional(async (tx) => {
    const version = await write(tx, user, context, { settings: last.before, version: context.launch.version, what: `Undone: ${last.what}` }, now);
    await tx.nativeUpdate(LaunchChange, { launchId: context.launch.id, version: { $in: [last.version, version] } }, { undone: true });
  });
  return last.what;
};
