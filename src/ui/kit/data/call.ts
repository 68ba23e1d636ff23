import { z } from "zod";
import { hrefOf, type AnswerOf, type Endpoint, type Params, type RequestOf } from "../../../contract/endpoint";

/** Why something was not done, or is not known to be done. */
export interface Failure {
  ok: false;
  /** `no_connection`: the server was not reached, or its answer did not come back. `not_understood`: it answered otherwise than declared. Else the refusal's own code. */
  code: string;
  message: string;
  fields: Record<string, string>;
}
export type Answer<T> = { ok: true; value: T } | Failure;

const refusal = z.object({ code: z.string(), message: z.string(), fields: z.record(z.string(), z.string()).default({}) });

const noConnection: Failure = {
  ok: false,
  code: "no_connection",
  message: "The server cannot be reached. What you typed is still here; try again.",
  fields: {},
};
// It may have been done: an answer that cannot be read is not taken for a refusal.
const notUnderstood: Failure = {
  ok: false,
  code: "not_understood",
  message: "The server answered in a way this page does not understand. It may have been done: reload to see how things stand.",
  fields: {},
};

const onReading: Record<string, string> = {
  no_connection: "The server cannot be reached.",
  not_understood: "The server answered in a way this page does not understand. Reload to try again.",
};

/** Reads an answer: what was declared, a refusal, or neither. */
export const readAnswer = async <T>(response: Response, answer: z.ZodType<T>): Promise<Answer<T>> => {
  let content: unknown;
  try {
    content = await response.json();
  } catch {
    return notUnderstood;
  }
  if (!response.ok) {
    const refused = refusal.safeParse(content);
    return refused.success ? { ok: false, ...refused.data } : notUnderstood;
  }
  const read = answer.safeParse(content);
  return read.success ? { ok: true, value: read.data } : notUnderstood;
};

/** Sends a request, and tells a server that was not reached from one that said no. */
export const fetched = async <T>(url: string | URL, init: RequestInit, answer: z.ZodType<T>): Promise<Answer<T>> => {
  let response: Response;
  try {
    response = await fetch(url, init);
  } catch {
    return noConnection;
  }
  return readAnswer(response, answer);
};

/** What an endpoint is called with: what its brackets stand for, and what is asked. */
export type Call<E extends Endpoint> = (unknown extends Params<E["path"]> ? { params?: undefined } : { params: Params<E["path"]> }) & {
  request?: RequestOf<E>;
  /** The page is being left: the request goes on without it. */
  leaving?: boolean;
};

const urlOf = (endpoint: Endpoint, params: unknown): URL => new URL(hrefOf(endpoint, (params ?? {}) as Params<string>), location.href);
const withQuery = (url: URL, request: unknown): URL => {
  for (const [name, value] of Object.entries(request ?? {})) url.searchParams.set(name, String(value));
  return url;
};

/** Calls an endpoint of the desk, reading ones as of the instant that the screen shows. Never throws. */
export const call = async <E extends Endpoint>(endpoint: E, { params, request, leaving = false }: Call<E>): Promise<Answer<AnswerOf<E>>> => {
  const url = urlOf(endpoint, params);
  const answer = endpoint.answer as z.ZodType<AnswerOf<E>>;
  if (endpoint.method === "POST")
    return fetched(
      url,
      { method: "POST", keepalive: leaving, headers: { "content-type": "application/json" }, body: JSON.stringify(request ?? {}) },
      answer,
    );
  // Nothing was typed and nothing can have been done: less is to be said where it fails.
  const read = (failure: Failure): Failure => (failure.code in onReading ? { ...failure, message: onReading[failure.code]! } : failure);
  const at = new URLSearchParams(location.search).get("at");
  if (at) url.searchParams.set("at", at);
  const answered = await fetched(withQuery(url, request), {}, answer);
  return answered.ok ? answered : read(answered);
};

/** Sends a file's bytes to an endpoint of the desk that takes files; what is asked of it goes in the query. Never throws. */
export const sendFile = <E extends Endpoint>(endpoint: E, file: Blob, { params, request }: Call<E>): Promise<Answer<AnswerOf<E>>> =>
  fetched(
    withQuery(urlOf(endpoint, params), request),
    { method: "POST", headers: { "content-type": "application/octet-stream" }, body: file },
    endpoint.answer as z.ZodType<AnswerOf<E>>,
  );
