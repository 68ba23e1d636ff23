import { queueToList } from "../../store/emails/queueToList";
import { Contact, EmailMessage } from "../../store/tables";
import { bells, longestRun, phaseFor, type LaunchPlan, type EmailSetting, type Viewer } from "../../core/launch";
import type { EntityManager } from "../../store/orm";
import { clockStarts } from "../../store/launch/clockStarts";
import { queueEmail } from "../../store/emails/queueEmail";
import type { App } from "../platform";
import { loadLaunch, type LaunchContext } from "./launchContext";

/** The email of a launch by its id; undefined where it was withdrawn. */
export const bellEmailOf = ({ settings }: LaunchPlan, id: string | null | undefined): EmailSetting | undefined =>
  settings.emails.find((email) => email.id === id);

const keyOf = (launchId: string, email: string, opens: Date | null | undefined) => `bell:${launchId}:${email}:${opens?.toISOString() ?? ""}`;

/** Queues an email to a slice of the list of a launch, behind `after`; without those who bought where the email says so. */
export const queueBellEmail = (
  em: EntityManager,
  { launch }: LaunchContext,
  email: EmailSetting,
  opens: Date | null | undefined,
  dueAt: Date,
  slice: { after: string | null; most: number },
): Promise<{ queued: number; last: string | null }> => {
  const data = opens ? { email: email.id, opens: opens.toISOString() } : { email: email.id };
  return queueToList(em, { launchId: launch.id, key: keyOf(launch.id, email.id, opens), data, toBuyers: email.to === "list", dueAt }, slice);
};

/** Queues the emails that hang on a personal clock which starts now, for its owner, if their address is known and may be used. */
export const queuePersonalEmails = async (em: EntityManager, context: LaunchContext, personId: string, who: Viewer, now: Date): Promise<void> => {
  if (context.plan.settings.emails.length === 0) return;
  const contact = await em.findOne(Contact, { personId, consentAt: { $ne: null }, unsubscribedAt: null }, { fields: ["id"] });
  if (!contact) return;
  const range = { from: now, to: new Date(now.getTime() + 366 * 86_400_000) };
  for (const bell of bells(context.plan, who, range)) {
    const email = bell.kind === "email" ? bellEmailOf(context.plan, bell.id) : undefined;
    if (!email) continue;
    const { opens } = bell;
    await queueEmail(em, {
      key: `${keyOf(context.launch.id, email.id, opens)}:${contact.id}`,
      kind: "bell",
      launchId: context.launch.id,
      contactId: contact.id,
      dueAt: bell.at,
      data: { email: email.id, opens: opens?.toISOString() },
    });
  }
};

/** Hangs the emails of a launch anew on every personal clock that runs, after its settings were changed. What is no longer due is found out when it is. */
export const rescheduleEmails = async (app: App, launchId: string): Promise<void> => {
  const em = app.fork();
  const context = await loadLaunch(em, { id: launchId });
  if (!context || context.plan.clock.kind !== "personal") return;
  const now = app.clock.now();
  await em.nativeUpdate(EmailMessage, { launchId, kind: "bell", state: "due", dueAt: { $gt: now } }, { dueAt: now });
  const since = new Date(now.getTime() - longestRun(context.plan.clock.length));
  for await (const people of clockStarts(em, launchId, now, since)) {
    for (const { personId, starts } of people) {
      if (phaseFor(context.plan, { starts }, now) === "during")
        await em.transactional((tx) => queuePersonalEmails(tx, context, personId, { starts }, now));
    }
  }
};
