import type { APIRoute } from "astro";
import { readSeenAs, readSeenAt } from "../../../core/launch";
import { deskUser } from "../../../server/platform";
import { previewAddress, previewResponse } from "../../../server/site";

/** A public address (`?path=`) as a person (`as`) would see it at an instant (`at`); inert, and only inside the desk. */
export const GET: APIRoute = async (visit) => {
  deskUser(visit);
  const { app, em } = visit.locals;
  const ask = (name: string) => visit.url.searchParams.get(name);
  const at = readSeenAt(ask("at")) ?? app.clock.now();
  return previewResponse(await previewAddress(app, em, visit.params["slug"] ?? "", ask("path") ?? "", readSeenAs(ask("as")), at));
};
