import type { z } from "zod";
import type { DeskUser } from "../../../store/tables";
import type { EntityManager } from "../../../store/orm";
import { deskUser } from "../access/access";
import type { App } from "../app";
import { Refusal } from "../refusal";

interface Locals {
  app: App;
  em: EntityManager;
  user?: DeskUser;
  /** Of which instant the screen that asks is: now, or the one it is looked at as of. */
  scope: { now: Date; past: boolean };
}
interface Context<T> extends Locals {
  user: DeskUser;
  body: T;
  params: Record<string, string | undefined>;
  now: Date;
}

/** What a JSON document says. Refuses what is none, and the NUL character, which no column of text can hold. */
export const parseJson = (text: string): unknown => {
  if (/\\u0000|\0/.test(text)) throw new Refusal(400, "not_text", "The request holds a character that cannot be kept (NUL).");
  try {
    return text ? JSON.parse(text) : {};
  } catch {
    throw new Refusal(400, "not_json", "The request is not JSON.");
  }
};

/** A JSON endpoint of the desk: knows who asks, reads and checks the body. What it throws is answered by the middleware. */
export const deskEndpoint =
  <T>(schema: z.ZodType<T>, run: (context: Context<T>) => Promise<unknown>) =>
  async ({ request, locals, params }: { request: Request; locals: Locals; params: Record<string, string | undefined> }): Promise<Response> => {
    const user = deskUser({ locals });
    const body = schema.parse(parseJson(await request.text()));
    const result = await run({ ...locals, user, body, params, now: locals.app.clock.now() });
    return Response.json(result ?? { ok: true });
  };

/** A reading endpoint of the desk: knows who asks, and reads what is asked for from the address. It changes nothing. */
export const deskRead =
  <T>(schema: z.ZodType<T>, run: (context: Context<T>) => Promise<unknown>) =>
  async ({ url, locals, params }: { url: URL; locals: Locals; params: Record<string, string | undefined> }): Promise<Response> => {
    const user = deskUser({ locals });
    const body = schema.parse(Object.fromEntries(url.searchParams));
    return Response.json(await run({ ...locals, user, body, params, now: locals.app.clock.now() }));
  };
