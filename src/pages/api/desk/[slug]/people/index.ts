import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { deskLaunch, viewerOfContact } from "../../../../../server/launch";
import { peopleByName } from "../../../../../store/people/peopleByName";

const ask = z.union([z.object({ find: z.string().trim().min(2).max(80) }), z.object({ id: z.uuid() })]);

/** Finds people of a launch by name or address, or answers what the clock knows of one. Reads only. */
export const POST: APIRoute = deskEndpoint(ask, async ({ em, body, params }) => {
  const context = await deskLaunch(em, params["slug"]);
  if ("find" in body) return { people: await peopleByName(em, context.launch.id, body.find) };
  return { person: (await viewerOfContact(em, context, body.id)) ?? null };
});
