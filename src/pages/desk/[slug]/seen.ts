import type { APIRoute } from "astro";
import { readSeenAs, readSeenAt } from "../../../core/launch";
import { previewAddress, previewResponse } from "../../../server/pages/preview";

/** A public address (`?path=`) as a person (`as`) would see it at an instant (`at`); inert, and only inside the desk. */
export const GET: APIRoute = async ({ params, url, locals: { app, em } }) => {
  const ask = (name: string) => url.searchParams.get(name);
  const at = readSeenAt(ask("at")) ?? app.clock.now();
  return previewResponse(await previewAddress(app, em, params["slug"] ?? "", ask("path") ?? "", readSeenAs(ask("as")), at));
};
