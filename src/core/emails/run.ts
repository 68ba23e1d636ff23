import { emailDueAt, windowsFor, type EmailSetting, type LaunchPlan, type Viewer, type Window } from "../launch";

/** An email of a launch with the instant at which it goes to somebody. */
export interface DatedEmail {
  email: EmailSetting;
  at: Date;
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

/** The run of a launch's emails for a viewer. Without a window (nobody's clock has started) none of them has a date. */
export const emailRun = (plan: LaunchPlan, who: Viewer, now: Date): EmailRun => {
  const window = windowOfRun(plan, who, now);
  if (!window) return { window, emails: [] };
  const dated = plan.settings.emails.map((email) => ({ email, at: emailDueAt(email, window) }));
  return { window, emails: dated.sort((a, b) => a.at.getTime() - b.at.getTime()) };
};
