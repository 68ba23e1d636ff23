import type { APIRoute } from "astro";
import { z } from "zod";
import { readSeenAs, readSeenAt } from "../../../core/launch";
import { deskUser } from "../../../server/platform";
import { previewDraft, previewResponse } from "../../../server/site";

/** A draft as it would look; inert, and only inside the desk. */
export const GET: APIRoute = async (visit) => {
  deskUser(visit);
  const { app, em } = visit.locals;
  const ask = (name: string) => visit.url.searchParams.get(name);
  const id = z.uuid().safeParse(visit.params["id"]);
  const at = readSeenAt(ask("at")) ?? app.clock.now();
  return previewResponse(id.success ? await previewDraft(app, em, id.data, readSeenAs(ask("as")), at) : undefined);
};
