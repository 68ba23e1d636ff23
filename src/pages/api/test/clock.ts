import type { APIRoute } from "astro";
import { z } from "zod";

const request = z.union([z.object({ set: z.iso.datetime() }), z.object({ advanceSeconds: z.number() })]);

/** Sets or advances the clock. Exists only where INKBELL_TEST_CLOCK=1 was set at start. */
export const POST: APIRoute = async ({ request: incoming, locals: { app, em } }) => {
  if (app.config.INKBELL_TEST_CLOCK !== "1") return new Response(null, { status: 404 });
  const asked = request.parse(await incoming.json());
  await app.clock.setTo(em, "set" in asked ? new Date(asked.set) : new Date(app.clock.now().getTime() + asked.advanceSeconds * 1000));
  return Response.json({ now: app.clock.now() });
};
