import { queueToList } from "../../store/emails/queueToList";
import { Contact, EmailMessage } from "../../store/tables";
import { bells, phaseFor, type Bell, type LaunchPlan, type LetterSetting, type Viewer } from "../../core/launch";
import type { EntityManager } from "../../store/orm";
import { clockStarts } from "../../store/launch/clockStarts";
import { queueEmail } from "../../store/emails/queueEmail";
import type { App } from "../platform";
import { loadLaunch, type LaunchContext } from "./launchContext";

/** The letter that a bell sends, and the opening of the window it belongs to (none with a clock of fixed dates). */
export const letterOf = (plan: LaunchPlan, bell: Pick<Bell, "key">): { letter: LetterSetting; opens?: string } | undefined => {
  const match = /^letter:([\w-]+)(?:@(.+))?$/.exec(bell.key);
  const letter = plan.settings.letters.find(({ id }) => id === match?.[1]);
  return letter && { letter, ...(match?.[2] ? { opens: match[2] } : {}) };
};

const keyOf = (launchId: string, letter: string, opens: string | undefined) => `letter:${launchId}:${letter}:${opens ?? ""}`;

/** Queues a letter to a slice of the list of a launch, behind `after`; without those who bought where the letter says so. */
export const queueLetter = (
  em: EntityManager,
  { launch }: LaunchContext,
  letter: LetterSetting,
  opens: string | undefined,
  dueAt: Date,
  slice: { after: string | null; most: number },
): Promise<{ queued: number; last: string | null }> => {
  const data = opens ? { letter: letter.id, opens } : { letter: letter.id };
  return queueToList(em, { launchId: launch.id, key: keyOf(launch.id, letter.id, opens), data, toBuyers: letter.to === "list", dueAt }, slice);
};

/** Queues the letters that hang on a personal clock which starts now, for its owner, if their address is known and may be used. */
export const queuePersonalLetters = async (em: EntityManager, context: LaunchContext, personId: string, who: Viewer, now: Date): Promise<void> => {
  if (context.plan.settings.letters.length === 0) return;
  const contact = await em.findOne(Contact, { personId, consentAt: { $ne: null }, unsubscribedAt: null }, { fields: ["id"] });
  if (!contact) return;
  const range = { from: now, to: new Date(now.getTime() + 366 * 86_400_000) };
  for (const bell of bells(context.plan, who, range)) {
    const found = letterOf(context.plan, bell);
    if (!found) continue;
    const { letter, opens } = found;
    await queueEmail(em, {
      key: `${keyOf(context.launch.id, letter.id, opens)}:${contact.id}`,
      kind: "letter",
      launchId: context.launch.id,
      contactId: contact.id,
      dueAt: bell.at,
      data: { letter: letter.id, opens },
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
  for (const { personId, starts } of await clockStarts(em, launchId, now)) {
    if (phaseFor(context.plan, { starts }, now) === "during")
      await em.transactional((tx) => queuePersonalLetters(tx, context, personId, { starts }, now));
  }
};
