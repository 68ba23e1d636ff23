import type { APIRoute } from "astro";
import { z } from "zod";
import { readSeenAs, readSeenAt } from "../../../core/launch";
import { previewDraft, previewResponse } from "../../../server/pages/preview";

/** A draft as it would look; inert, and only inside the desk. */
export const GET: APIRoute = async ({ params, url, locals: { app, em } }) => {
  const id = z.uuid().safeParse(params["id"]);
  const at = readSeenAt(url.searchParams.get("at")) ?? app.clock.now();
  return previewResponse(id.success ? await previewDraft(app, em, id.data, readSeenAs(url.searchParams.get("as")), at) : undefined);
};
