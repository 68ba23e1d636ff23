import { queueToList } from "../../store/emails/queueToList";
import { Contact, EmailMessage } from "../../store/tables";
import { bells, longestRun, phaseFor, type LaunchPlan, type LetterSetting, type Viewer } from "../../core/launch";
import type { EntityManager } from "../../store/orm";
import { clockStarts } from "../../store/launch/clockStarts";
import { queueEmail } from "../../store/emails/queueEmail";
import type { App } from "../platform";
import { loadLaunch, type LaunchContext } from "./launchContext";

/** The letter of a launch by its id; undefined where it was withdrawn. */
export const letterOf = ({ settings }: LaunchPlan, id: string | null | undefined): LetterSetting | undefined =>
  settings.letters.find((letter) => letter.id === id);

const keyOf = (launchId: string, letter: string, opens: Date | null | undefined) => `letter:${launchId}:${letter}:${opens?.toISOString() ?? ""}`;

/** Queues a letter to a slice of the list of a launch, behind `after`; without those who bought where the letter says so. */
export const queueLetter = (
  em: EntityManager,
  { launch }: LaunchContext,
  letter: LetterSetting,
  opens: Date | null | undefined,
  dueAt: Date,
  slice: { after: string | null; most: number },
): Promise<{ queued: number; last: string | null }> => {
  const data = opens ? { letter: letter.id, opens: opens.toISOString() } : { letter: letter.id };
  return queueToList(em, { launchId: launch.id, key: keyOf(launch.id, letter.id, opens), data, toBuyers: letter.to === "list", dueAt }, slice);
};

/** Queues the letters that hang on a personal clock which starts now, for its owner, if their address is known and may be used. */
export const queuePersonalLetters = async (em: EntityManager, context: LaunchContext, personId: string, who: Viewer, now: Date): Promise<void> => {
  if (context.plan.settings.letters.length === 0) return;
  const contact = await em.findOne(Contact, { personId, consentAt: { $ne: null }, unsubscribedAt: null }, { fields: ["id"] });
  if (!contact) return;
  const range = { from: now, to: new Date(now.getTime() + 366 * 86_400_000) };
  for (const bell of bells(context.plan, who, range)) {
    const letter = bell.kind === "letter" ? letterOf(context.plan, bell.id) : undefined;
    if (!letter) continue;
    const { opens } = bell;
    await queueEmail(em, {
      key: `${keyOf(context.launch.id, letter.id, opens)}:${contact.id}`,
      kind: "letter",
      launchId: context.launch.id,
      contactId: contact.id,
      dueAt: bell.at,
      data: { letter: letter.id, opens: opens?.toISOString() },
    });
  }
};

/** Hangs the letters of a launch anew on every personal clock that runs, after its settings were changed. What is no longer due is found out when it is. */
export const rescheduleEmails = async (app: App, launchId: string): Promise<void> => {
  const em = app.fork();
  const context = await loadLaunch(em, { id: launchId });
  if (!context || context.plan.clock.kind !== "personal") return;
  const now = app.clock.now();
  await em.nativeUpdate(EmailMessage, { launchId, kind: "letter", state: "due", dueAt: { $gt: now } }, { dueAt: now });
  const since = new Date(now.getTime() - longestRun(context.plan.clock.length));
  for await (const people of clockStarts(em, launchId, now, since)) {
    for (const { personId, starts } of people) {
      if (phaseFor(context.plan, { starts }, now) === "during")
        await em.transactional((tx) => queuePersonalLetters(tx, context, personId, { starts }, now));
    }
  }
};
