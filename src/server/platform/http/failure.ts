import { z } from "zod";
import { describeError } from "../describeError";
import { Refusal } from "../refusal";
import type { App } from "../app";

/** What is said of a request that was not carried out. */
export interface Failure {
  status: number;
  code: string;
  headline: string;
  text: string;
  fields?: Record<string, string>;
  permission?: string;
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

/** The refusal behind an error: a body that grew too large fails where it is read, with the refusal as its cause. */
const refusalIn = (error: unknown): Refusal | undefined =>
  error instanceof Refusal ? error : error instanceof Error && error.cause !== undefined ? refusalIn(error.cause) : undefined;

/** What is said of an error, and whether it is one of ours to look into. */
export const failureOf = (error: unknown, changes: boolean): Failure & { unexpected?: true } => {
  if (error instanceof z.ZodError) {
    const fields = Object.fromEntries(error.issues.map((issue) => [issue.path.join("."), issue.message]));
    return { status: 422, code: "fields", headline: headlines[422]!, text: "Some fields need another look. Nothing was saved yet.", fields };
  }
  const refusal = refusalIn(error);
  if (refusal) {
    const { status, code, message, fields, more } = refusal;
    return { status, code, headline: headlines[status]!, text: message, fields, again: status === 429, ...more };
  }
  if (isDatabaseAway(error)) {
    const text = changes
      ? "It is not certain whether this was kept. Look in a minute whether it arrived before you send it again."
      : "Something that this page needs is away. Load it again in a minute.";
    return { status: 503, code: "away", headline: headlines[503]!, text, again: true, retryAfterSeconds: 30 };
  }
  const text = changes
    ? "It is not certain how much of this was done. Look first whether it arrived; then try again."
    : "It was written down, and will be looked into. Try again in a moment.";
  return { status: 500, code: "failed", headline: headlines[500]!, text, again: true, unexpected: true };
};

/** The same for a program that reads JSON. */
export const failureJson = (failure: Failure): Response => {
  const { status, code, text: message, fields = {}, permission, retryAfterSeconds } = failure;
  const headers = { "cache-control": "no-store", ...(retryAfterSeconds ? { "retry-after": String(retryAfterSeconds) } : {}) };
  return Response.json({ code, message, fields, ...(permission ? { permission } : {}) }, { status, headers });
};

/** Writes an unexpected error to the log, without what follows the question mark: links carry tokens there. */
export const logFailure = (app: App, error: unknown, path: string): void =>
  app.log.error({ ...describeError(error), path: path.split("?", 1)[0] }, "request failed");
