import { launchesOf } from "./launchCache";
import { phaseFor, view, type LaunchView, type Viewer } from "../../core/launch";
import { countdownSentence, stagesOf } from "../../public/countdown";
import { type App, describeError } from "../platform";
import type { LaunchContext } from "./launchContext";
import { countdownImage, figureInMinutes, imageAge } from "./countdownImage";
import { identify, isPersonal, viewerOf } from "./persons";

interface Seen {
  context: LaunchContext;
  who: Viewer;
  seen: LaunchView;
  now: Date;
  /** Whether a person's link was understood. */
  known: boolean;
}

const look = async (app: App, slug: string, link: string | null): Promise<Seen | undefined> => {
  const context = await launchesOf(app).bySlug(slug);
  // Of a launch that nobody can see yet, nobody learns that it is coming.
  if (!context?.plan.pages.some(({ published }) => published)) return undefined;
  const now = app.clock.now();
  const identity = identify(app, { link }, now);
  const who = isPersonal(context.plan) && identity.contactId ? await viewerOf(app.fork(), context, identity) : {};
  return { context, who, seen: view(context.plan, who, now), now, known: identity.contactId !== undefined };
};

const closedWords = (context: LaunchContext, who: Viewer, now: Date): string => {
  const phase = phaseFor(context.plan, who, now);
  if (phase === "after") return "The doors are closed.";
  return phase === "before" ? "The doors are not open yet." : "Nothing is counted any more.";
};

/** The countdown for a script on another site: JSON that anyone may read, and nobody may keep. */
export const countdownJson = async (app: App, slug: string, link: string | null): Promise<Response> => {
  const found = await look(app, slug, link);
  const headers = { "access-control-allow-origin": "*", "cache-control": "no-store", "x-content-type-options": "nosniff" };
  if (!found) return Response.json({ code: "not_found" }, { status: 404, headers });
  const { context, seen, now } = found;
  const { countdown } = seen;
  return Response.json(
    {
      launch: context.launch.name,
      now: now.getTime(),
      href: `${app.config.origin}/l/${slug}`,
      countdown: countdown && {
        until: countdown.until.getTime(),
        to: countdown.to,
        sentence: countdownSentence(countdown, context.launch.zone),
        stages: stagesOf(context.plan, countdown),
      },
    },
    { headers },
  );
};

/** The picture of what a launch counts to for somebody at an instant, as PNG. */
export const drawCountdown = (context: LaunchContext, who: Viewer, now: Date, seen = view(context.plan, who, now)): Promise<Buffer> => {
  const { countdown } = seen;
  return countdownImage(
    countdown
      ? {
          figure: figureInMinutes(countdown.until.getTime() - now.getTime()),
          sentence: countdownSentence(countdown, context.launch.zone),
          stage: countdown.stage && { look: countdown.stage.look, words: countdown.stage.words },
        }
      : { sentence: `${context.launch.name}. ${closedWords(context, who, now)}` },
  );
};

/** The countdown as a picture for emails and places without script. It may be kept only until it would say something else. */
export const countdownPicture = async (app: App, slug: string, link: string | null): Promise<Response> => {
  const found = await look(app, slug, link);
  if (!found) return new Response("There is no such launch.", { status: 404, headers: { "cache-control": "no-store" } });
  const { context, who, seen, now } = found;
  const { countdown } = seen;
  try {
    const image = await drawCountdown(context, who, now, seen);
    const age = Math.floor(imageAge(countdown, now) / 1000);
    return new Response(new Uint8Array(image), {
      headers: {
        "content-type": "image/png",
        "cache-control": `${found.known ? "private" : "public"}, max-age=${age}, must-revalidate`,
        "x-content-type-options": "nosniff",
        // What the picture counts to, for who checks it.
        ...(countdown ? { "x-countdown-until": countdown.until.toISOString() } : {}),
      },
    });
  } catch (error) {
    app.log.error(describeError(error), "a countdown could not be drawn");
    return new Response("The picture could not be drawn.", { status: 500, headers: { "cache-control": "no-store" } });
  }
};
