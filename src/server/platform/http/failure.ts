import { z } from "zod";
import { describeError } from "../describeError";
import { faultSentences, faultsOf, refusalSentence, type Faults, type RefusalData } from "../../../core/words";
import { usualLocale, type Locale } from "../../../core/money";
import { Refusal, wrongFields } from "../refusal";
import type { App } from "../app";

/** What is said of a request that was not carried out. */
export interface Failure {
  status: number;
  code: string;
  headline: string;
  text: string;
  /** The refusal with all that it was made from, and what is wrong with each field: for programs that choose their own words. */
  refusal?: RefusalData;
  faults?: Readonly<Faults>;
  /** What is said at each field. */
  fields?: Record<string, string>;
  retryAfterSeconds?: number;
  /** Whether sending the same again may succeed. */
  again?: boolean;
}

const headlines: Record<number, string> = {
  400: "This request cannot be read.",
  401: "Sign in first.",
  403: "This is not open to you.",
  404: "There is nothing at this address.",
  405: "This address does not take that.",
  409: "This cannot be done now.",
  413: "This is too large.",
  415: "This request cannot be read.",
  422: "Some fields need another look.",
  429: "Too many tries.",
  500: "Something went wrong here.",
  503: "We cannot answer at the moment.",
};
// PostgreSQL's classes of lost connections, shut-downs and statements that took too long, those of the network, and a pool
// that got no connection in time.
const awayCodes = /^(08...|57P0[123]|57014|53300|ECONNREFUSED|ECONNRESET|EPIPE|ENOENT|ETIMEDOUT)$/;

/** Whether the database could not be reached, as far as an error or one of its causes tells. */
export const isDatabaseAway = (error: unknown): boolean => {
  if (!(error instanceof Error)) return false;
  const { code, name, message, cause } = error as Error & { code?: unknown };
  if (typeof code === "string" && awayCodes.test(code)) return true;
  if (
    name === "KnexTimeoutError" ||
    message.includes("is not currently accepting connections") ||
    message.startsWith("Connection terminated") ||
    message === "timeout expired"
  )
    return true;
  return cause !== undefined && isDatabaseAway(cause);
};

// A full disk, one that may not be written to, one that fails, and a folder that is not there any more.
const diskCodes = /^(ENOSPC|EDQUOT|EROFS|EACCES|EPERM|EIO|ENOTDIR|EMFILE|ENFILE)$/;

/** Whether files could not be stored or read. */
const isDiskAway = (error: unknown): boolean =>
  error instanceof Error && "syscall" in error && "code" in error && typeof error.code === "string" && diskCodes.test(error.code);

/** The refusal behind an error: a body that grew too large fails where it is read, with the refusal as its cause. */
const refusalIn = (error: unknown): Refusal | undefined =>
  error instanceof Refusal ? error : error instanceof Error && error.cause !== undefined ? refusalIn(error.cause) : undefined;

/** What is said of a refusal to whoever reads in a locale: a sentence, and one at each field. */
const failureOfRefusal = ({ status, code, data, faults }: Refusal, locale: Locale): Failure => ({
  status,
  code,
  headline: headlines[status]!,
  text: refusalSentence(data, locale),
  refusal: data,
  faults,
  fields: faultSentences(faults, locale),
  again: status === 429,
  ...(data.code === "too_many" ? { retryAfterSeconds: data.retryAfterSeconds } : {}),
});

/** A refusal as a page shows it. */
export interface ShownRefusal {
  status: number;
  text: string;
  fields: Record<string, string>;
  /** What is said where there is one place for it: what is wrong with the field, where one is at fault. */
  line: string;
}

/** What a page says of a refusal that it shows itself. Other errors are thrown on. */
export const shownRefusal = (error: unknown, locale: Locale = usualLocale): ShownRefusal => {
  const refusal = error instanceof z.ZodError ? wrongFields("nothing_saved", faultsOf(error)) : error;
  if (!(refusal instanceof Refusal)) throw error;
  const { status, text, fields = {} } = failureOfRefusal(refusal, locale);
  return { status, text, fields, line: Object.values(fields)[0] ?? text };
};

/** What is said of an error, and whether it is one of ours to look into. */
export const failureOf = (error: unknown, changes: boolean, locale: Locale = usualLocale): Failure & { unexpected?: true } => {
  if (error instanceof z.ZodError) return failureOfRefusal(wrongFields("nothing_saved", faultsOf(error)), locale);
  const refusal = refusalIn(error);
  if (refusal) return failureOfRefusal(refusal, locale);
  if (isDatabaseAway(error)) {
    const text = changes
      ? "It is not certain whether this was kept. Look in a minute whether it arrived before you send it again."
      : "Something that this page needs is away. Load it again in a minute.";
    return { status: 503, code: "away", headline: headlines[503]!, text, again: true, retryAfterSeconds: 30 };
  }
  // Files are stored before anything is written down that names them.
  if (isDiskAway(error)) {
    const text = changes
      ? "The file could not be stored: the server’s disk is full or away. Nothing was changed; try again later."
      : "The server’s disk is away. Try again in a minute.";
    return { status: 503, code: "disk", headline: headlines[503]!, text, again: true, retryAfterSeconds: 60, unexpected: true };
  }
  const text = changes
    ? "It is not certain how much of this was done. Look first whether it arrived; then try again."
    : "It was written down, and will be looked into. Try again in a moment.";
  return { status: 500, code: "failed", headline: headlines[500]!, text, again: true, unexpected: true };
};

/** The same for a program that reads JSON. */
export const failureJson = (failure: Failure): Response => {
  const { status, code, text: message, refusal, faults = {}, fields = {}, retryAfterSeconds } = failure;
  const headers = { "cache-control": "no-store", ...(retryAfterSeconds ? { "retry-after": String(retryAfterSeconds) } : {}) };
  return Response.json({ code, message, fields, faults, ...(refusal ? { refusal } : {}) }, { status, headers });
};

/** Writes an unexpected error to the log, without what follows the question mark: links carry tokens there. */
export const logFailure = (app: App, error: unknown, path: string): void =>
  app.log.error({ ...describeError(error), path: path.split("?", 1)[0] }, "request failed");
