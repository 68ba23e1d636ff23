import { windowsFor, type EmailSetting, type LaunchPlan, type Viewer, type Window } from "../launch";
import { bellEmailDueAt, lastCall, type BellEmails, type EmailMomentOf, type EmailReader } from "./bellEmails";
import { noLimits, paced } from "./pacing";

/** An email of a launch with the instant at which it goes to somebody. */
export interface DatedEmail extends EmailMomentOf {
  email: EmailSetting;
  /** Why it does not go at all, as far as can be told ahead. */
  stop?: "quiet_past_close";
}
/** The emails of one opening of a launch's doors, in the order in which they go. */
export interface EmailRun {
  window: Window | undefined;
  emails: DatedEmail[];
}

const day = 86_400_000;

/** Whose run is drawn where nobody is chosen: where everybody has a clock of their own, somebody whose clock starts now. */
export const usualViewer = ({ clock }: Pick<LaunchPlan, "clock">, now: Date): Viewer => (clock.kind === "personal" ? { starts: [now] } : {});

/** The opening of the doors that a run is about: the one that is under way or comes next, else the last. */
const windowOfRun = (plan: LaunchPlan, who: Viewer, now: Date): Window | undefined => {
  if (plan.clock.kind === "fixed") return plan.clock.window;
  const windows = windowsFor(plan, who, new Date(now.getTime() - 400 * day), new Date(now.getTime() + 400 * day));
  return windows.find(({ closes }) => closes > now) ?? windows.at(-1);
};

/** When an email goes to a reader, their quiet hours waited for. */
const datedFor = (email: EmailSetting, run: BellEmails, reader?: EmailReader): DatedEmail => {
  const dated = { email, ...bellEmailDueAt(email, run, reader) };
  if (!reader || lastCall(run)?.id === email.id) return dated;
  const { closes } = run.window;
  const mailbox = { zone: reader.zone, sent: [], lastCalls: [] };
  const may = paced({ ...noLimits, quiet: reader.quiet }, mailbox, { at: dated.at, lastCall: false, closes: dated.at < closes ? closes : undefined });
  if (may === "go") return dated;
  return "stop" in may ? { ...dated, stop: "quiet_past_close" } : { email, at: may.waitUntil, movedFrom: dated.at };
};

/** The run of a launch's emails for a viewer, by the hours of a reader. Without a window (nobody's clock has started) none of them has a date. */
export const emailRun = (plan: LaunchPlan, who: Viewer, now: Date, reader?: EmailReader): EmailRun => {
  const window = windowOfRun(plan, who, now);
  if (!window) return { window, emails: [] };
  const run = { emails: plan.settings.emails, window, zone: plan.zone };
  const dated = run.emails.map((email) => datedFor(email, run, reader));
  return { window, emails: dated.sort((a, b) => a.at.getTime() - b.at.getTime()) };
};

/** Emails on bells and in sequences that can still go after an instant and are not published: they would go to nobody. */
export const emailsToPublish = (plan: LaunchPlan, isPublished: (key: string) => boolean, at: Date): string[] => {
  const { emails, sequences } = plan.settings;
  const over = (email: EmailSetting) =>
    plan.clock.kind === "fixed" && bellEmailDueAt(email, { emails, window: plan.clock.window, zone: plan.zone }).at <= at;
  const steps = sequences.flatMap(({ steps: all, untilClosed }) =>
    untilClosed && plan.clock.kind === "fixed" && at >= plan.clock.window.closes ? [] : all,
  );
  return [...emails.filter((email) => !over(email)), ...steps].map(({ id }) => id).filter((id) => !isPublished(id));
};
