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

/**
 * Answers an endpoint of the contract by a use case. Who asks is known and may ask, what they ask is checked by the contract, and nothing is
 * answered that the contract does not name. What is thrown is answered by the middleware.
 */
export const answering = <E extends Endpoint>(endpoint: E, run: (asked: Asked<E>) => Promise<z.input<E["answer"]> | void>): Answering => ({
  endpoint,
  async respond(visit, params) {
    const { request, url, locals } = visit;
    const user = deskUser({ locals }, endpoint.permission);
    if ("id" in params && !uuid.safeParse(params["id"]).success) throw new Refusal({ code: "not_found", what: "address" });
    const asked: unknown = endpoint.method === "GET" ? Object.fromEntries(url.searchParams) : parseJson(await request.text());
    const body = endpoint.request.parse(asked) as z.output<E["request"]>;
    const { app, em, scope } = locals;
    const asking = { app, em, user, body, params: params as Params<E["path"]>, now: app.clock.now(), scope, visit };
    const result = await run(asking).catch((error: unknown) => {
      // It is refused all the same; whoever wrote it forgot to say that it may be.
      if (error instanceof Refusal && !usualRefusals.includes(error.code) && !endpoint.refusals.includes(error.code))
        app.log.error({ endpoint: endpoint.path, refusal: error.code }, "a refusal that the contract does not name");
      throw error;
    });
    return Response.json(endpoint.answer.parse(result ?? {}));
  },
});
