import { lockLaunch } from "../../store/launch/lockLaunch";
import { archiveRefusal, shortMoment, type ArchiveRefusal } from "../../core/launch";
import { Launch, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { deleteLaunchRows, launchTraces } from "../../store/launch/deleteLaunch";
import { mustBeAllowed, Refusal, required } from "../platform";
import { launchChanged, loadLaunch, type LaunchContext } from "./launchContext";

const sentence = (refusal: ArchiveRefusal, zone: string): string => {
  switch (refusal.code) {
    case "doors_open":
      return `The doors are open until ${shortMoment(refusal.closes, zone)}, and checkouts may finish a little after. Archive it once they have closed.`;
    case "doors_will_open":
      return `Its doors will open on ${shortMoment(refusal.opens, zone)}. Give it dates that are over first, in Clock.`;
    case "always_on":
      return "It is always on, so people can still come to it. Give it dates that are over first, in Clock.";
  }
};

/** Refuses what would change a launch that was archived. */
export const mustNotBeArchived = ({ archivedAt }: Pick<Launch, "archivedAt">): void => {
  if (archivedAt) throw new Refusal(409, "archived", "This launch is archived. Restore it first, under Launches.");
};

/** Takes a launch out of the lists, or puts it back. Its addresses go on answering as they do after the close; orders stay where they are. */
export const archiveLaunch = async (em: EntityManager, user: DeskUser, seen: LaunchContext, archived: boolean, now: Date): Promise<void> => {
  mustBeAllowed(user, "launch.edit");
  await em.transactional(async (tx) => {
    await lockLaunch(tx, { id: seen.launch.id });
    const { launch, plan } = required(await loadLaunch(tx, { id: seen.launch.id }), "launch");
    if (launch.version !== seen.launch.version)
      throw new Refusal(409, "changed_meanwhile", "Somebody changed this launch at the same moment. Nothing was archived: look at it again.");
    if (archived) {
      const refusal = archiveRefusal(plan, now);
      if (refusal) throw new Refusal(409, refusal.code, sentence(refusal, plan.zone));
    }
    launch.archivedAt = archived ? (launch.archivedAt ?? now) : null;
    launch.version += 1;
    await tx.flush();
    await launchChanged(tx);
  });
};

/** What keeps a launch from being deleted, in words; undefined where nothing does. */
export const keptBecause = async (em: EntityManager, { launch }: Pick<LaunchContext, "launch">): Promise<string | undefined> => {
  const others = await em.find(Launch, { id: { $ne: launch.id } });
  const hands = others.find(({ settings }) => settings.stops.some(({ handTo }) => handTo === launch.id));
  if (hands) return `the clock of “${hands.name}” hands people on to it`;
  const traces = await launchTraces(em, launch.id);
  const names = {
    people: "people came to it",
    orders: "orders belong to it",
    published: "pages of it were public",
    listings: "it is listed on a marketplace",
    emails: "emails were written for it",
    partners: "partners belong to it",
  } as const;
  const [first] = (Object.keys(names) as (keyof typeof names)[]).filter((key) => traces[key]);
  return first && names[first];
};

/** Deletes a launch on which nothing hangs, with its pages, its path and its history, for good. Its products stay. */
export const deleteLaunch = async (em: EntityManager, user: DeskUser, context: LaunchContext): Promise<void> => {
  mustBeAllowed(user, "launch.edit");
  await em.transactional(async (tx) => {
    await lockLaunch(tx, { id: context.launch.id });
    const because = await keptBecause(tx, context);
    if (because) throw new Refusal(409, "in_use", `It cannot be deleted: ${because}. It can be archived.`);
    await deleteLaunchRows(tx, context.launch.id);
    await launchChanged(tx);
  });
};
