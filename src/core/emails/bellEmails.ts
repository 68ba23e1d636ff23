import { emailDueAt, type EmailSetting, type Window } from "../launch";
import { quietAt, type QuietHours } from "./quietHours";

/** What of an email says on which bell it hangs. */
export type HungEmail = Pick<EmailSetting, "id" | "hangsOn" | "minutes" | "time">;

/** The emails of one window of a launch. */
export interface BellEmails {
  emails: readonly HungEmail[];
  window: Window;
  /** That of the launch. */
  zone: string;
}
/** By whose clock quiet hours are counted. */
export interface EmailReader {
  zone: string;
  quiet: QuietHours | null;
}
/** When an email goes to somebody; `from` where it was moved out of their quiet hours. */
export interface EmailMomentOf {
  at: Date;
  movedFrom?: Date;
}

/** So long before quiet hours begin goes what would fall into them. */
const beforeQuiet = 15 * 60_000;

const findLastCall = ({ emails, window, zone }: BellEmails): HungEmail | undefined => {
  const before = emails.map((email) => ({ email, at: emailDueAt(email, window, zone).getTime() })).filter(({ at }) => at < window.closes.getTime());
  return before.reduce<(typeof before)[number] | undefined>((last, one) => (last && last.at >= one.at ? last : one), undefined)?.email;
};

// By a launch's list of emails: asked for every reader, and the same for all whose doors close together.
const lastCalls = new WeakMap<readonly HungEmail[], { key: string; email: HungEmail | undefined }>();

/** The last email before the doors close: it is moved earlier where others would wait, and is never dropped for want of room. */
export const lastCall = (run: BellEmails): HungEmail | undefined => {
  const key = `${run.window.opens.getTime()} ${run.window.closes.getTime()} ${run.zone}`;
  let known = lastCalls.get(run.emails);
  if (known?.key !== key) lastCalls.set(run.emails, (known = { key, email: findLastCall(run) }));
  return known.email;
};

/**
 * When an email of a window goes to a reader. The last one before the close goes before quiet hours that it would fall into, unless the doors are not
 * open by then; the others wait, which is decided when they are due.
 */
export const bellEmailDueAt = (email: HungEmail, run: BellEmails, reader?: EmailReader): EmailMomentOf => {
  const at = emailDueAt(email, run.window, run.zone);
  const quiet = reader && quietAt(reader.quiet, at, reader.zone);
  if (!quiet || at <= run.window.opens || lastCall(run)?.id !== email.id) return { at };
  const moved = new Date(quiet.from.getTime() - beforeQuiet);
  return moved > run.window.opens ? { at: moved, movedFrom: at } : { at };
};
