import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { restoreVersion } from "../../../../../server/pages";

/** Brings an earlier state of a page back as its draft. */
export const POST: APIRoute = deskEndpoint(
  z.object({ version: z.number().int(), from: z.number().int() }),
  async ({ em, user, body, params, now }) => {
    const page = await restoreVersion(em, user, z.uuid().parse(params["id"]), body.version, body.from, now);
    return { version: page.version, content: page.draft };
  },
);
