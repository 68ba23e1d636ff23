import { mediaOf, type CompiledPage, type Media as MediaFacts, type PageContent } from "../../core/pages";
import { compilePage } from "../../public/compile";
import { Media, type Launch } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { sha256 } from "../platform";

/** An upload as pages know it. */
export const mediaFacts = (row: Media): MediaFacts => ({
  id: row.id,
  kind: row.kind,
  name: row.name,
  hash: row.hash,
  alt: row.alt,
  width: row.width,
  height: row.height,
  widths: row.widths,
  focal: [row.focalX, row.focalY],
  extension: row.extension,
  bytes: row.bytes,
});

/** Looks up uploads by their ids; those that are gone are passed over. */
export const mediaLookup = async (em: EntityManager, ids: (string | null)[]): Promise<(id: string | null) => MediaFacts | undefined> => {
  const wanted = [...new Set(ids.filter((id): id is string => id !== null))];
  const rows = wanted.length > 0 ? await em.find(Media, { id: { $in: wanted } }) : [];
  const byId = new Map(rows.map((row) => [row.id, mediaFacts(row)]));
  return (id) => (id === null ? undefined : byId.get(id));
};

/** Compiles a page's words as they stand, with its uploads and its launch's look. */
export const compileFor = async (
  em: EntityManager,
  launch: Pick<Launch, "slug" | "name" | "look">,
  page: { key: string },
  content: PageContent,
  vendor: string,
): Promise<CompiledPage> => {
  const media = await mediaLookup(em, [...mediaOf(content), (content.look ?? launch.look).logo]);
  return compilePage({ content, look: launch.look, launch, key: page.key, vendor, media, hash: sha256 });
};
