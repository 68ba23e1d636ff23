import { z } from "zod";
import type { DeskUser } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { App } from "./app";
import { describeError } from "./describeError";
import { Refusal } from "./refusal";

interface Locals {
  app: App;
  em: EntityManager;
  user?: DeskUser;
}
interface Context<T> extends Locals {
  user: DeskUser;
  body: T;
  params: Record<string, string | undefined>;
  now: Date;
}

/** The JSON answer to a refusal, or undefined where the error is none. */
export const refusalResponse = (error: unknown): Response | undefined => {
  if (error instanceof z.ZodError) {
    const fields = Object.fromEntries(error.issues.map((issue) => [issue.path.join("."), issue.message]));
    return Response.json({ code: "fields", message: "Some fields need another look. Nothing was saved yet.", fields }, { status: 422 });
  }
  if (!(error instanceof Refusal)) return undefined;
  return Response.json({ code: error.code, message: error.message, fields: error.fields }, { status: error.status });
};

/** A JSON endpoint of the desk: reads and checks the body, knows who asks, answers refusals as data. */
export const deskEndpoint =
  <T>(schema: z.ZodType<T>, run: (context: Context<T>) => Promise<unknown>) =>
  async ({ request, locals, params }: { request: Request; locals: Locals; params: Record<string, string | undefined> }): Promise<Response> => {
    try {
      if (!locals.user) throw new Refusal(401, "signed_out", "Sign in at the desk first.");
      const text = await request.text();
      let content: unknown = {};
      try {
        content = text ? JSON.parse(text) : {};
      } catch {
        throw new Refusal(400, "not_json", "The request is not JSON.");
      }
      const body = schema.parse(content);
      const result = await run({ ...locals, user: locals.user, body, params, now: locals.app.clock.now() });
      return Response.json(result ?? { ok: true });
    } catch (error) {
      const response = refusalResponse(error);
      if (response) return response;
      locals.app.log.error(describeError(error), "desk endpoint failed");
      return Response.json({ code: "failed", message: "Something went wrong here. Nothing was changed; try again." }, { status: 500 });
    }
  };
