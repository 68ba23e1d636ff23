import { lockLaunch } from "../../store/launch/lockLaunch";
import { archiveRefusal } from "../../core/launch";
import { type Trace } from "../../core/words";
import { Launch, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { deleteLaunchRows, launchTraces } from "../../store/launch/deleteLaunch";
import { mustBeAllowed, Refusal, required } from "../platform";
import { launchChanged, loadLaunch, type LaunchContext } from "./launchContext";

/** Refuses what would change a launch that was archived. */
export const mustNotBeArchived = ({ archivedAt }: Pick<Launch, "archivedAt">): void => {
  if (archivedAt) throw new Refusal({ code: "archived" });
};

/** Takes a launch out of the lists, or puts it back. Its addresses go on answering as they do after the close; orders stay where they are. */
export const archiveLaunch = async (em: EntityManager, user: DeskUser, seen: LaunchContext, archived: boolean, now: Date): Promise<void> => {
  mustBeAllowed(user, "launch.edit");
  await em.transactional(async (tx) => {
    await lockLaunch(tx, { id: seen.launch.id });
    const { launch, plan } = required(await loadLaunch(tx, { id: seen.launch.id }), "launch");
    if (launch.version !== seen.launch.version) throw new Refusal({ code: "changed_meanwhile", what: "launch" });
    if (archived) {
      const refusal = archiveRefusal(plan, now);
      if (refusal) throw new Refusal(refusal.code === "always_on" ? refusal : { ...refusal, zone: plan.zone });
    }
    launch.archivedAt = archived ? (launch.archivedAt ?? now) : null;
    launch.version += 1;
    await tx.flush();
    await launchChanged(tx);
  });
};

/** What keeps a launch from being deleted; undefined where nothing does. */
export const keptBecause = async (
  em: EntityManager,
  { launch }: Pick<LaunchContext, "launch">,
): Promise<{ trace: Trace } | { handsOver: string } | undefined> => {
  const others = await em.find(Launch, { id: { $ne: launch.id } });
  const hands = others.find(({ settings }) => settings.stops.some(({ handTo }) => handTo === launch.id));
  if (hands) return { handsOver: hands.name };
  const traces = await launchTraces(em, launch.id);
  const [first] = (["people", "orders", "published", "listings", "emails", "partners"] as const).filter((key) => traces[key]);
  return first && { trace: first };
};

/** Deletes a launch on which nothing hangs, with its pages, its path and its history, for good. Its products stay. */
export const deleteLaunch = async (em: EntityManager, user: DeskUser, context: LaunchContext): Promise<void> => {
  mustBeAllowed(user, "launch.edit");
  await em.transactional(async (tx) => {
    await lockLaunch(tx, { id: context.launch.id });
    const because = await keptBecause(tx, context);
    if (because) throw new Refusal({ code: "launch_in_use", ...because });
    await deleteLaunchRows(tx, context.launch.id);
    await launchChanged(tx);
  });
};
