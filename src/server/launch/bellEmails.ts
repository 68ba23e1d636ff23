import { bellEmailDueAt, lastCall, type EmailData } from "../../core/emails";
import { queueToList, type ListEmail } from "../../store/emails/queueToList";
import { sendingLimitsOf } from "../../store/settings/sending";
import { Contact } from "../../store/tables";
import { bells, windowFor, type LaunchPlan, type EmailSetting, type Viewer } from "../../core/launch";
import type { EntityManager } from "../../store/orm";
import { queueEmail } from "../../store/emails/queueEmail";
import type { LaunchContext } from "./launchContext";

/** The email of a launch by its id; undefined where it was withdrawn. */
export const bellEmailOf = ({ settings }: LaunchPlan, id: string | null | undefined): EmailSetting | undefined =>
  settings.emails.find((email) => email.id === id);

const keyOf = (launchId: string, email: string, opens: Date | null | undefined) => `bell:${launchId}:${email}:${opens?.toISOString() ?? ""}`;

/** How many emails are queued in one transaction. */
export const sliceSize = 2_000;

/** What an email of a window carries; `opens` where a launch has several windows. */
export const bellDataOf = (email: EmailSetting, opens: Date | null | undefined): EmailData["bell"] =>
  opens ? { email: email.id, opens: opens.toISOString() } : { email: email.id };

/** Queues an email to a slice of the list of a launch, behind `after`; without those who bought where the email says so. */
export const queueBellEmail = (
  em: EntityManager,
  { launch }: LaunchContext,
  email: EmailSetting,
  opens: Date | null | undefined,
  when: Pick<ListEmail, "dueAt" | "dueByZone" | "lastCall">,
  slice: { after: string | null; most: number },
): Promise<{ queued: number; last: string | null }> =>
  queueToList(
    em,
    { launchId: launch.id, key: keyOf(launch.id, email.id, opens), data: bellDataOf(email, opens), toBuyers: email.to === "list", ...when },
    slice,
  );

/** Queues the emails that hang on a personal clock which starts now, for its owner, if their address is known and may be used. */
export const queuePersonalEmails = async (em: EntityManager, context: LaunchContext, personId: string, who: Viewer, now: Date): Promise<void> => {
  if (context.plan.settings.emails.length === 0) return;
  const contact = await em.findOne(Contact, { personId, consentAt: { $ne: null }, unsubscribedAt: null }, { fields: ["id", "zone", "guessedZone"] });
  if (!contact) return;
  const { plan } = context;
  const { quiet } = await sendingLimitsOf(em);
  const reads = { zone: contact.zone ?? contact.guessedZone ?? plan.zone, quiet };
  const range = { from: now, to: new Date(now.getTime() + 366 * 86_400_000) };
  for (const bell of bells(context.plan, who, range)) {
    const email = bell.kind === "email" ? bellEmailOf(context.plan, bell.id) : undefined;
    if (!email) continue;
    const { opens } = bell;
    const window = windowFor(plan, who, opens ?? bell.at);
    const run = window && { emails: plan.settings.emails, window, zone: plan.zone };
    await queueEmail(em, {
      key: `${keyOf(context.launch.id, email.id, opens)}:${contact.id}`,
      kind: "bell",
      launchId: context.launch.id,
      contactId: contact.id,
      dueAt: run ? bellEmailDueAt(email, run, reads).at : bell.at,
      lastCall: run && lastCall(run)?.id === email.id,
      data: bellDataOf(email, opens),
    });
  }
};
