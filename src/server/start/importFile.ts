import { type Fault, faultOf } from "../../core/words";
import { pageAddress } from "../../core/pages";
import { randomUUID } from "node:crypto";
import { settingFaults, type LaunchSettings, type MomentSetting } from "../../core/launch";
import { inOrder, pathEnd, type PathStep } from "../../core/offers";
import { mapLeaves, type Tree, withNewIds, type Look, type PageContent } from "../../core/pages";
import { writeEmails } from "../../store/emails/launchEmails";
import { Launch, Media, type Page, PageTemplate, Product, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { Readable } from "node:stream";
import type { FileStore } from "../../outside/fileStore";
import { type App, mustBeAllowed, required, wrongField, wrongFields } from "../platform";
import { savePath } from "../offers";
import { noteAsked } from "../products";
import { launchChanged, loadLaunch, newHookSecret, scheduleLaunch } from "../launch";
import { freeSlug } from "./createLaunch";
import { mayAdd, newPage, storeMedia } from "../pages";
import { withExportFile, type ExportFile } from "./exportFile";

type ExportFileOf<K extends ExportFile["kind"]> = Extract<ExportFile, { kind: K }>;

/** Keeps the uploads of an export file, each through the same checks as any upload, and answers their new ids. */
const importMedia = async (
  store: FileStore,
  em: EntityManager,
  user: DeskUser,
  { content, files }: ExportFile,
  now: Date,
): Promise<Map<string, string>> => {
  const ids = new Map<string, string>();
  for (const { id, path, name, alt, focal } of content.media) {
    // Brought back to where it came from, it is there still.
    const here = await em.findOne(Media, { id });
    if (here && here.name === name) {
      ids.set(id, id);
      continue;
    }
    const kept = await storeMedia(store, em, user.id, name, files.get(path)!, now);
    if (!kept.alt) await em.nativeUpdate(Media, { id: kept.id }, { alt, focalX: focal[0], focalY: focal[1] });
    ids.set(id, kept.id);
  }
  return ids;
};

interface Renamed {
  media: Map<string, string>;
  products: Map<string, string>;
}

/** A page with its uploads and products under their new ids; what did not come along is left empty. */
const renamedBlocks = <T extends Tree>(content: T, { media, products }: Renamed): T => {
  const file = (id: string | null) => (id === null ? null : (media.get(id) ?? null));
  return mapLeaves(content, (leaf) => {
    switch (leaf.type) {
      case "picture":
      case "testimonial":
      case "download":
      case "cross":
        return { ...leaf, media: file(leaf.media) };
      case "bump":
      case "addition":
        return { ...leaf, media: file(leaf.media), product: leaf.product && (products.get(leaf.product) ?? null) };
      case "form":
        return { ...leaf, gift: file(leaf.gift) };
      case "live":
        return { ...leaf, media: file(leaf.media), captions: file(leaf.captions) };
      case "video":
        return { ...leaf, media: file(leaf.media), poster: file(leaf.poster), captions: file(leaf.captions) };
      default:
        return leaf;
    }
  });
};
const renamed = (content: PageContent, names: Renamed): PageContent => {
  const file = (id: string | null) => (id === null ? null : (names.media.get(id) ?? null));
  return { ...renamedBlocks(content, names), picture: file(content.picture), look: content.look && renamedLook(content.look, file) };
};
const renamedLook = (look: Look, file: (id: string | null) => string | null): Look => ({ ...look, logo: file(look.logo) });

const shortId = () => randomUUID().slice(0, 8);

/** The launch that a page is brought into, and where it will stand; empty takes the address it had. */
interface Where {
  launch: string;
  address: string;
}

const importPage = async (em: EntityManager, file: ExportFileOf<"page">, media: Map<string, string>, request: Where): Promise<string> => {
  const context = required(request.launch ? await loadLaunch(em, { slug: request.launch }) : undefined, "launch");
  const { page, look } = file.content;
  const read = pageAddress.safeParse(request.address || page.slug || page.kind);
  if (!read.success) throw wrongField("nothing_imported", "address", faultOf(read.error.issues[0]!));
  mayAdd(context, read.data, page.kind);
  const content = withNewIds(renamed(page.content, { media, products: new Map() }), shortId);
  // It keeps the look it had: as a page of its own, or from the launch it came from.
  const own = content.look ?? renamedLook(look, (id) => (id === null ? null : (media.get(id) ?? null)));
  const made = newPage(em, { launchId: context.launch.id, kind: page.kind, key: read.data, slug: read.data, draft: { ...content, look: own } });
  await em.persist(made).flush();
  await launchChanged(em);
  return `/desk/${context.launch.slug}/pages/${read.data}`;
};

const importTemplate = async (
  em: EntityManager,
  user: DeskUser,
  { content: template }: ExportFileOf<"template">,
  media: Map<string, string>,
  now: Date,
): Promise<void> => {
  const { name, purpose, kind } = template;
  const content = renamed(template.content, { media, products: new Map() });
  await em.persist(em.create(PageTemplate, { id: randomUUID(), name, purpose, kind, content, createdAt: now, userId: user.id })).flush();
};

/** A moment with its product under its new id; of one that is not here it is nobody's, rather than everybody's. */
const importMoment = (from: MomentSetting, products: Map<string, string>): MomentSetting =>
  "product" in from && from.product ? { ...from, product: products.get(from.product) ?? randomUUID() } : from;

/** The settings with products under their new ids; hand-overs to launches that are not here are taken out. */
const importSettings = (settings: LaunchSettings, products: Map<string, string>): LaunchSettings => ({
  ...settings,
  sequences: settings.sequences.map((sequence) => ({ ...sequence, from: importMoment(sequence.from, products) })),
  stops: settings.stops.map((stop) =>
    stop.on === "purchase" ? { ...stop, handTo: null, product: stop.product && (products.get(stop.product) ?? null) } : { ...stop, handTo: null },
  ),
});

const importLaunch = async (
  em: EntityManager,
  user: DeskUser,
  { content }: ExportFileOf<"launch">,
  media: Map<string, string>,
  now: Date,
): Promise<string> => {
  const { launch: from } = content;
  const refuse = (fault: Fault): never => {
    throw wrongField("nothing_imported", "file", fault);
  };
  const products = new Map(from.products.map(({ id }) => [id, randomUUID()]));
  const main = from.products.find(({ id }) => id === from.mainProduct) ?? refuse({ code: "file", why: "no_main_product" });
  const keys = new Set(from.pages.map(({ key }) => key));
  if (keys.size !== from.pages.length || new Set(from.pages.map(({ slug }) => slug)).size !== from.pages.length)
    refuse({ code: "file", why: "address_twice" });
  const settings = importSettings(from.settings, products);
  const source = {
    slug: "new",
    name: from.name,
    zone: from.zone,
    shape: from.shape,
    settings,
    price: { minor: main.priceMinor, currency: main.currency },
    pages: from.pages.map(({ key, kind, slug }) => ({ key, kind, slug, title: "", published: false })),
    subjects: {},
  };
  const wrong = Object.entries(settingFaults(source))[0];
  if (wrong) throw wrongFields("nothing_imported", { file: { code: "file_does_not_fit", at: wrong[0] }, [wrong[0]]: wrong[1] });
  for (const { holds, ...one } of from.products) {
    const made = em.create(Product, { ...one, id: products.get(one.id)!, contents: holds.flatMap((part) => products.get(part) ?? []) });
    await em.persist(made).flush();
    await noteAsked(em, made, now);
  }
  const { name, zone, shape, creditWindowDays, recoveryDelayMinutes } = from;
  const launch = em.create(Launch, {
    id: randomUUID(),
    slug: await freeSlug(em, name),
    name,
    zone,
    shape,
    settings,
    creditWindowDays,
    recoveryDelayMinutes,
    look: renamedLook(from.look, (id) => (id === null ? null : (media.get(id) ?? null))),
    version: 1,
    createdAt: now,
    hookSecret: newHookSecret(),
    mainProductId: products.get(from.mainProduct)!,
  });
  await em.persist(launch).flush();
  const pages = new Map<string, Page>();
  for (const { key, kind, slug, content: draft, variants } of from.pages) {
    const page = newPage(em, { launchId: launch.id, kind, key, slug, draft: renamed(draft, { media, products }) });
    pages.set(key, page);
    await em.persist(page).flush();
    for (const { variant, weight, content: other } of variants) {
      const mark = `~${variant.toLowerCase()}`;
      const made = newPage(em, {
        launchId: launch.id,
        kind,
        key: `${key}${mark}`,
        slug: `${slug}${mark}`,
        variantOf: page.id,
        draft: renamed(other, { media, products }),
      });
      await em.persist(Object.assign(made, { weight })).flush();
    }
  }
  const emails = Object.entries(from.emails).map(([emailKey, content]) => [emailKey, renamedBlocks(content, { media, products })] as const);
  await writeEmails(em, launch.id, Object.fromEntries(emails), now);
  await importPath(em, launch.id, from.path, pages, products, refuse, { userId: user.id, now });
  await scheduleLaunch(em, launch.id, now);
  return `/desk/${launch.slug}/pages`;
};

const importPath = async (
  em: EntityManager,
  launchId: string,
  path: ExportFileOf<"launch">["content"]["launch"]["path"],
  pages: Map<string, Page>,
  products: Map<string, string>,
  refuse: (fault: Fault) => never,
  { userId, now }: { userId: string; now: Date },
): Promise<void> => {
  const ids = new Map(path.map((step) => [step.page, randomUUID()]));
  if (ids.size !== path.length) refuse({ code: "file", why: "page_twice" });
  const to = (key: string): string => {
    const end = pages.get(key);
    if (key === pathEnd || (end?.kind === "thanks" && end.key === "thanks")) return pathEnd;
    if (end?.kind === "thanks") return `${pathEnd}:${end.id}`;
    return ids.get(key) ?? refuse({ code: "path_leads_out", to: key });
  };
  const steps = path.map((step): PathStep => {
    const page = pages.get(step.page);
    const productId = products.get(step.product);
    if (!page || page.kind !== "offer" || !productId) return refuse({ code: "step_incomplete", page: step.page });
    const { kind, sure } = step;
    return { id: ids.get(step.page)!, kind, sure, pageId: page.id, productId, yesTo: to(step.yes), noTo: to(step.no) };
  });
  if (steps.length === 0) return;
  const made = { first: steps[0]!.id, steps };
  if (inOrder(made)?.length !== steps.length) refuse({ code: "file", why: "path_in_circle" });
  await savePath(em, launchId, made, { what: "Brought in from a file", userId, now });
};

/**
 * Imports a page, a template or a whole launch from a file: all of it, as drafts that nobody sees, or nothing. Answers
 * what it was and where it stands now.
 */
export const importFile = async (
  { files: store }: Pick<App, "files">,
  em: EntityManager,
  user: DeskUser,
  body: Readable | Buffer,
  request: Where,
  now: Date,
): Promise<{ kind: ExportFile["kind"]; href?: string }> => {
  mustBeAllowed(user, "launch.import");
  return withExportFile(store, body, (file) =>
    em.transactional(async (tx) => {
      const media = await importMedia(store, tx, user, file, now);
      if (file.kind === "launch") return { kind: file.kind, href: await importLaunch(tx, user, file, media, now) };
      if (file.kind === "page") return { kind: file.kind, href: await importPage(tx, file, media, request) };
      await importTemplate(tx, user, file, media, now);
      return { kind: file.kind };
    }),
  );
};
