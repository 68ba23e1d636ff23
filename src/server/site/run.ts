import { fault, publicWords } from "../../core/words";
import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/pages";
import { decideCommentOf } from "../../store/pages/decideComment";
import { noteQuarters } from "../../store/pages/watchedQuarters";
import { identify, type Identity, isPersonal, type LaunchContext, launchesOf, viewerOf } from "../launch";
import { randomUUID } from "node:crypto";
import { ICalCalendar } from "ical-generator";
import { z } from "zod";
import { calendarEntry, view, type LiveView } from "../../core/launch";
import { addressOf, firstBlock, pageLeaves, withoutVariant, type BlockOf } from "../../core/pages";
import { sentByProgram } from "../../core/people";
import { type DeskUser, type Page, PageComment } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { type App, limitSender, mustBeAllowed, type PublicRequest, Refusal, required, type Sender } from "../platform";
import { writeEvents } from "../../store/events/writeEvents";
import { personOf } from "../identity";
import { isRegistered } from "./extras";

const watched = z.object({ film: z.string().regex(/^[a-z0-9/-]{1,80} [a-z0-9-]{1,40}$/), quarters: z.coerce.number().int().min(1).max(4) });

/**
 * Records how much of a film a visitor has watched, in quarters of its length. Each quarter is an event once; a repeated
 * or late report changes nothing. Answers whether there is such a film on a published page.
 */
export const recordWatched = async (app: App, slug: string, values: Record<string, string>, visitorId: string): Promise<boolean> => {
  const context = await launchesOf(app).bySlug(slug);
  const sent = watched.safeParse(values);
  if (!context || !sent.success) return false;
  const [key = "", film = ""] = sent.data.film.split(" ");
  const { quarters } = sent.data;
  const page = [...context.pages, ...context.variants].find((one) => withoutVariant(one.key) === key && filmOn(one, film));
  if (!page) return false;
  const now = app.clock.now();
  await app.fork().transactional(async (tx) => {
    const person = await personOf(tx, visitorId, now);
    const from = await noteQuarters(tx, { launchId: context.launch.id, page: key, film, personId: person, quarters, at: now });
    if (from === undefined) return;
    const each = Array.from({ length: quarters - from }, (_, n) => from + n + 1);
    await writeEvents(
      tx,
      each.map((one) => ({ launchId: context.launch.id, visitorId, kind: "watched", at: now, page: key, data: { film, quarters: one } })),
    );
  });
  return true;
};

const filmOn = ({ published }: Page, id: string): boolean =>
  published ? pageLeaves(published).some((leaf) => leaf.id === id && (leaf.type === "video" || leaf.type === "live")) : false;

const said = z.object({
  body: z.string().trim().min(1, fault("words_missing")).max(2000),
  name: z.string().trim().min(1, fault("name_missing")).max(60),
  website: z.string().optional(),
});

/** The published page whose form was written to, and its block. Refuses with 404 where there is none. */
export const writtenTo = <T extends "comments" | "invitation">(
  context: LaunchContext,
  type: T,
  values: Record<string, string>,
): { page: Page; block: BlockOf<T> } => {
  const all = [...context.pages, ...context.variants].filter(({ key }) => withoutVariant(key) === values["page"]);
  const block = all
    .flatMap(({ published }) => (published ? pageLeaves(published) : []))
    .find((leaf) => leaf.type === type && leaf.id === values["block"]);
  return {
    page: required(
      context.pages.find(({ key }) => key === values["page"]),
      "page",
    ),
    block: required(block as BlockOf<T> | undefined, "form"),
  };
};

/** Keeps a comment until the vendor has read it. A program that sends one is thanked like everyone. */
export const writeComment = async (
  em: EntityManager,
  context: LaunchContext,
  post: Sender & { values: Record<string, string>; now: Date },
): Promise<{ page: Page; block: BlockOf<"comments"> }> => {
  const at = writtenTo(context, "comments", post.values);
  const { body, name, website } = said.parse(post.values);
  await limitSender(em, post.now, "comment", post, 20, 600);
  if (website || sentByProgram(post.values["shownAt"], post.now)) return at;
  await em.transactional(async (tx) => {
    const person = await personOf(tx, post.visitorId, post.now);
    // Sent twice by a double press, it stands once.
    const comment = { launchId: context.launch.id, page: at.page.key, personId: person, body };
    if ((await tx.count(PageComment, { ...comment, at: { $gt: new Date(post.now.getTime() - 600_000) } })) > 0) return;
    await tx.insert(PageComment, { ...comment, id: randomUUID(), name, at: post.now });
    await writeEvents(tx, [{ launchId: context.launch.id, visitorId: post.visitorId, kind: "commented", at: post.now, page: at.page.key, data: {} }]);
  });
  return at;
};

/** The live session of a page, as a person finds it; undefined where there is none, or its episode is locked for them. */
const sessionOf = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  key: string,
  identity: Identity,
): Promise<{ page: Page; live: LiveView } | undefined> => {
  const seen = view(context.plan, await viewerOf(em, context, identity), app.clock.now());
  const episode = seen.episodes.find((one) => one.page.key === key && one.open);
  const page = context.pages.find((one) => one.key === key);
  return episode?.live && page?.published ? { page, live: episode.live } : undefined;
};

/** Where the link into a live session leads: in, for who has a place, while it is open; else back to its page. */
export const joinSession = async (
  app: App,
  slug: string,
  key: string,
  request: Pick<PublicRequest, "keptLink" | "visitorId">,
): Promise<string | undefined> => {
  const context = await launchesOf(app).bySlug(slug);
  const page = context?.pages.find((one) => one.key === key);
  if (!context || !page) return undefined;
  const em = app.fork();
  const identity = identify(app, request, app.clock.now());
  const session = await sessionOf(app, em, context, key, identity);
  if (session?.live.phase !== "joining" || !(await isRegistered(em, context, key, identity))) return addressOf(slug, page);
  return session.live.url;
};

/**
 * The calendar file of one moment (RFC 5545): of a bell of the doors as it holds for whoever asks, or of an episode. It is one event, named the same however it
 * is moved. Its link is the page's, which alone lets people in. Undefined where there is no such moment for them, or nothing of it is public.
 */
export const calendarFile = async (
  app: App,
  slug: string,
  of: string,
  request: Pick<PublicRequest, "keptLink" | "visitorId"> & { link: string | null },
): Promise<string | undefined> => {
  const context = await launchesOf(app).bySlug(slug);
  if (!context?.plan.pages.some(({ published }) => published)) return undefined;
  const now = app.clock.now();
  const { launch, plan } = context;
  const who = isPersonal(plan) ? await viewerOf(app.fork(), context, identify(app, request, now)) : {};
  const entry = calendarEntry(plan, of, who, now);
  const page = entry?.page && context.pages.find(({ key }) => key === of);
  if (!entry || (entry.page && !page?.published)) return undefined;
  const w = publicWords(app.vendor.locale).calendar;
  const calendar = new ICalCalendar({ name: launch.name, prodId: { company: "Ink Bell", product: "Moments", language: "EN" }, timezone: null });
  const address = `${app.config.origin}${page ? addressOf(slug, page) : `/l/${slug}`}`;
  calendar.createEvent({
    id: `${entry.key}.${launch.id}@${new URL(app.config.origin).hostname}`,
    start: entry.starts,
    end: entry.ends,
    stamp: launch.createdAt,
    sequence: launch.version,
    summary: page
      ? (page.published && firstBlock(page.published, "live")?.heading) || entry.page!.title
      : of === "opening"
        ? w.opens(launch.name)
        : w.closes(launch.name),
    description: w.wayIn(address),
    url: address,
  });
  return calendar.toString();
};

/** Shows or hides a comment, with the vendor's answer to it where there is one. */
export const decideComment = async (
  em: EntityManager,
  user: DeskUser,
  launchId: string,
  request: BodyOf<typeof contract.decideComment>,
  now: Date,
): Promise<void> => {
  mustBeAllowed(user, "comment.moderate");
  const { id, state, reply } = request;
  const decided = await decideCommentOf(em, launchId, { id, state, decidedAt: now, decidedBy: user.id, reply });
  if (!decided) throw new Refusal({ code: "not_found", what: "comment" });
};
