import type { APIRoute } from "astro";
import { z } from "zod";
import { deskRead } from "../../../../../server/platform";
import { deskLaunch } from "../../../../../server/launch";
import { countPeopleOfLaunch } from "../../../../../server/people";

/** How many people of a launch meet the condition that a sentence asks for. */
export const GET: APIRoute = deskRead(z.object({ who: z.string().max(4_000) }), async ({ em, body, params, scope }) => ({
  people: await countPeopleOfLaunch(em, await deskLaunch(em, params["slug"]), { sentence: body.who, ...scope }),
}));
