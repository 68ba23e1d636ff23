import type { ReadableStream } from "node:stream/web";
import type { APIContext } from "astro";
import { z } from "zod";
import { type Endpoint, type Params, usualRefusals } from "../../../contract/endpoint";
import type { DeskUser } from "../../../store/tables";
import type { EntityManager } from "../../../store/orm";
import { deskUser } from "../access/access";
import type { App } from "../app";
import { Refusal } from "../refusal";
import { parseJson } from "./requestBody";

/** What an endpoint is asked, and by whom. */
export interface Asked<E extends Endpoint> {
  app: App;
  em: EntityManager;
  user: DeskUser;
  body: z.output<E["request"]>;
  params: Params<E["path"]>;
  now: Date;
  /** Of which instant the screen that asks is: now, or the one it is looked at as of. */
  scope: { now: Date; past: boolean };
  /** The request with its cookies. */
  visit: APIContext;
}

/** An endpoint with what answers it. */
export interface Answering {
  readonly endpoint: Endpoint;
  readonly respond: (visit: APIContext, params: Record<string, string>) => Promise<Response>;
}

const uuid = z.uuid();

/** A file as an answer: the name under which it is kept, and its bytes as they come. */
export interface Download {
  name: string;
  type: string;
  body: ReadableStream<Uint8Array>;
}

/** What is asked is checked by the contract, and who asks is known and may ask; what is refused without being declared is written to the log. */
const asking = async <E extends Endpoint, T>(
  endpoint: E,
  visit: APIContext,
  params: Record<string, string>,
  run: (asked: Asked<E>) => Promise<T>,
): Promise<T> => {
  const { request, url, locals } = visit;
  const user = deskUser({ locals }, endpoint.permission);
  if ("id" in params && !uuid.safeParse(params["id"]).success) throw new Refusal({ code: "not_found", what: "address" });
  const inQuery = endpoint.method === "GET" || endpoint.file;
  const asked: unknown = inQuery ? Object.fromEntries(url.searchParams) : parseJson(await request.text());
  const body = endpoint.request.parse(asked) as z.output<E["request"]>;
  const { app, em, scope } = locals;
  return run({ app, em, user, body, params: params as Params<E["path"]>, now: app.clock.now(), scope, visit }).catch((error: unknown) => {
    // It is refused all the same; whoever wrote it forgot to say that it may be.
    if (error instanceof Refusal && !usualRefusals.includes(error.code) && !endpoint.refusals.includes(error.code))
      app.log.error({ endpoint: endpoint.path, refusal: error.code }, "a refusal that the contract does not name");
    throw error;
  });
};

/**
 * Answers an endpoint of the contract by a use case. Who asks is known and may ask, what they ask is checked by the contract, and nothing is
 * answered that the contract does not name. What is thrown is answered by the middleware.
 */
export const answering = <E extends Endpoint>(endpoint: E, run: (asked: Asked<E>) => Promise<z.input<E["answer"]> | void>): Answering => ({
  endpoint,
  respond: async (visit, params) => Response.json(endpoint.answer.parse((await asking(endpoint, visit, params, run)) ?? {})),
});

/** Answers an endpoint of the contract with a file. */
export const answeringFile = <E extends Endpoint>(endpoint: E, run: (asked: Asked<E>) => Promise<Download>): Answering => ({
  endpoint,
  async respond(visit, params) {
    const { name, type, body } = await asking(endpoint, visit, params, run);
    // The platform names its stream of bytes in two places, and the checker takes them for two.
    return new Response(body as unknown as BodyInit, { headers: { "content-type": type, "content-disposition": `attachment; filename="${name}"` } });
  },
});
