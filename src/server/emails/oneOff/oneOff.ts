import { randomUUID } from "node:crypto";
import { LockMode } from "@mikro-orm/core";
import { movedClosingEmail, oneOffBegins, oneOffDueAt, oneOffMayBecome, type OneOffState } from "../../../core/emails";
import { resolveWallTime, toldOtherOf } from "../../../core/launch";
import { countRecipients, queueOnce, redateOnce, stopOnce, zonesOfPeople, type RecipientCounts } from "../../../store/emails/oneOff";
import { forgetEmail, saveEmailDraft } from "../../../store/emails/launchEmails";
import { OneOffEmail, type DeskUser } from "../../../store/tables";
import type { EntityManager } from "../../../store/orm";
import { launchChanged, loadLaunch, mustNotBeArchived, type LaunchContext } from "../../launch";
import { conditionOf, conditionWriter } from "../../people";
import { mustBeAllowed, queue, Refusal, required, wrongField, type App } from "../../platform";
import { farAway, timingOf } from "./timing";
import { publishedContent } from "../contents";

/** How many copies are queued in one transaction. */
const sliceSize = 2_000;

/** An email that goes once, as the desk shows it. */
export interface OneOffView {
  id: string;
  /** To whom, as a sentence; empty for everybody who may be written to. */
  who: string;
  /** When it goes, as it was typed (see `OneOffDraft`), and at which instant, where that is one for all. */
  wall: string | null;
  byZone: boolean;
  at: Date | null;
  state: OneOffState;
  queued: number;
  /** Whether nobody is left to queue it for. */
  allQueued: boolean;
  version: number;
}

/** The emails of a launch that go once, the newest first. */
export const listOneOffs = async (em: EntityManager, { oneOffs }: LaunchContext): Promise<OneOffView[]> => {
  const sentence = await conditionWriter(em);
  return [...oneOffs.values()]
    .sort((a, b) => b.createdAt.getTime() - a.createdAt.getTime())
    .map(({ id, condition, at = null, wall = null, byZone, state, queued, queuedAt, version }) => ({
      id,
      who: condition ? sentence(condition) : "",
      wall,
      byZone,
      at,
      state,
      queued,
      allQueued: Boolean(queuedAt),
      version,
    }));
};

const changing = async <T>(
  em: EntityManager,
  { launch }: LaunchContext,
  id: string,
  change: (tx: EntityManager, one: OneOffEmail) => Promise<T>,
): Promise<T> => {
  mustNotBeArchived(launch);
  return em.transactional(async (tx) => {
    const one = required(await tx.findOne(OneOffEmail, { id, launchId: launch.id }, { lockMode: LockMode.PESSIMISTIC_WRITE }), "email");
    const changed = await change(tx, one);
    await tx.flush();
    await launchChanged(tx);
    return changed;
  });
};

/**
 * Begins an email that goes once, to everybody who may be written to until it is said to whom. About a closing that was moved it is begun to those who were
 * told another, with words to start from.
 */
export const addOneOff = async (
  em: EntityManager,
  user: DeskUser,
  context: LaunchContext,
  about: "moved_closing" | null,
  now: Date,
): Promise<{ id: string }> => {
  mustBeAllowed(user, "launch.edit");
  const { launch } = context;
  mustNotBeArchived(launch);
  const id = randomUUID();
  const toldOther = about === "moved_closing" ? required(toldOtherOf(context.plan, launch.id, now), "email") : undefined;
  await em.transactional(async (tx) => {
    await tx.insert(OneOffEmail, { id, launchId: launch.id, createdAt: now, condition: toldOther ? { toldOther } : null });
    if (toldOther) await saveEmailDraft(tx, launch.id, id, movedClosingEmail(), 0);
    await launchChanged(tx);
  });
  return { id };
};

/** To how many an email to those whom a sentence asks for would go now. */
export const recipientsOf = async (em: EntityManager, { launch }: LaunchContext, who: string, now: Date): Promise<RecipientCounts> =>
  countRecipients(em, launch.id, (await conditionOf(em, who)) ?? null, now);

export interface OneOffDraft {
  who: string;
  /** Now, where it is null. */
  wall: string | null;
  /** Whether the wall time is each reader's own, or the launch's. */
  byZone: boolean;
}

/** Keeps to whom and when an email is to go, as it is typed; answers the new version. */
export const saveOneOff = async (
  em: EntityManager,
  user: DeskUser,
  context: LaunchContext,
  id: string,
  { who, wall, byZone }: OneOffDraft,
  version: number,
): Promise<{ version: number }> => {
  mustBeAllowed(user, "launch.edit");
  const condition = (await conditionOf(em, who)) ?? null;
  return changing(em, context, id, (_tx, one) => {
    if (one.version !== version || one.state !== "draft") throw new Refusal({ code: "changed_meanwhile", what: "email" });
    Object.assign(one, { condition, wall, byZone, version: version + 1 });
    return Promise.resolve({ version: one.version });
  });
};

/**
 * Sends an email once, or has it go at its time, to those who meet its condition when it begins. Refuses one that is not published, that was changed
 * since it was looked at, or whose moment is over.
 */
export const scheduleOneOff = async (
  em: EntityManager,
  user: DeskUser,
  context: LaunchContext,
  id: string,
  version: number,
  now: Date,
): Promise<void> => {
  mustBeAllowed(user, "launch.edit");
  if (!publishedContent(context, "once", id))
    throw new Refusal({ code: "gap", says: "It is not published yet.", why: "Write it, and publish it: what is sent is what was published." });
  await changing(em, context, id, async (tx, one) => {
    if (one.version !== version) throw new Refusal({ code: "changed_meanwhile", what: "email" });
    const read = one.wall ? resolveWallTime(one.wall, context.plan.zone) : { instant: now };
    if (!("instant" in read)) throw wrongField("nothing_changed", "wall", { code: "moment" });
    if (one.wall && read.instant <= now) throw wrongField("nothing_changed", "wall", { code: "moment_past" });
    mustBecome(one, "scheduled");
    one.byZone = one.byZone && Boolean(one.wall);
    one.at = one.byZone ? null : read.instant;
    one.beginsAt = oneOffBegins(timingOf(one)!);
    one.version += 1;
    await queue(tx, "queue_one_off", { id }, one.beginsAt, `one_off:${id}`);
  });
};

const mustBecome = (one: OneOffEmail, state: OneOffState): void => {
  if (!oneOffMayBecome[one.state as OneOffState].includes(state)) throw new Refusal({ code: "changed_meanwhile", what: "email" });
  one.state = state;
};

/** Holds an email while it goes out, lets it go on, or calls it off. What has been sent is sent. */
export const holdOneOff = async (
  em: EntityManager,
  user: DeskUser,
  context: LaunchContext,
  id: string,
  to: "pause" | "resume" | "cancel",
  now: Date,
): Promise<void> => {
  mustBeAllowed(user, "launch.edit");
  const { id: launchId } = context.launch;
  await changing(em, context, id, async (tx, one) => {
    if (to === "pause") {
      mustBecome(one, "paused");
      await redateOnce(tx, launchId, id, farAway(now));
    } else if (to === "cancel") {
      mustBecome(one, "cancelled");
      await stopOnce(tx, launchId, id);
    } else {
      mustBecome(one, one.startedAt ? "sending" : "scheduled");
      await redateOnce(tx, launchId, id, now);
      await queue(tx, "queue_one_off", { id }, one.beginsAt! > now ? one.beginsAt! : now, `one_off:${id}`);
    }
  });
};

/** Forgets an email that was never sent to anybody. */
export const removeOneOff = async (em: EntityManager, user: DeskUser, context: LaunchContext, id: string): Promise<void> => {
  mustBeAllowed(user, "launch.edit");
  await changing(em, context, id, async (tx, one) => {
    if (one.state !== "draft") throw new Refusal({ code: "changed_meanwhile", what: "email" });
    await forgetEmail(tx, one.launchId, id);
    tx.remove(one);
  });
};

/** Queues the copies of an email that goes once, a slice at a time, each in a transaction of its own behind its row. Cut off, it goes on where it was; paused or called off, it ends. */
export const queueOneOff = async (app: App, id: string): Promise<void> => {
  for (;;) {
    const more = await app.fork().transactional(async (tx) => {
      const one = await tx.findOne(OneOffEmail, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE });
      const timing = one && timingOf(one);
      const now = app.clock.now();
      if (!one || !timing || (one.state !== "scheduled" && one.state !== "sending") || one.queuedAt || one.beginsAt! > now) return false;
      const context = (await loadLaunch(tx, { id: one.launchId }))!;
      const { zone } = context.plan;
      const zones = timing.wall === null ? [] : await zonesOfPeople(tx);
      const dueByZone = Object.fromEntries(zones.map((of) => [of, oneOffDueAt(timing, of)]));
      const what = { id, launchId: one.launchId, condition: one.condition ?? null, dueAt: oneOffDueAt(timing, zone), dueByZone };
      const { queued, last } = await queueOnce(tx, what, { after: one.queuedAfter ?? null, most: sliceSize }, now);
      one.state = "sending";
      one.startedAt ??= now;
      one.queued += queued;
      one.queuedAfter = last ?? one.queuedAfter;
      if (!last) one.queuedAt = now;
      await tx.flush();
      await launchChanged(tx);
      return last !== null;
    });
    if (!more) return;
  }
};
