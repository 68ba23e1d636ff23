import type { App } from "../app/app";
import { failureJson, failureWords, type Failure } from "../app/failure";
import { messagePage } from "./policy";

/** A failure as a page of two sentences, or as JSON for who asks at an endpoint. */
export const answerFailure = (app: App, failure: Failure, pathname: string): Response => {
  if (pathname.startsWith("/api/")) return failureJson(failure);
  const { status, body, headers } = messagePage(app, failure.status, failure.headline, failureWords(failure));
  const later: Record<string, string> = failure.retryAfterSeconds ? { "retry-after": String(failure.retryAfterSeconds) } : {};
  return new Response(body, { status, headers: { ...headers, ...later } });
};
