import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { PageKind } from "../../core/launch";
import type { Media as MediaFacts, PageContent, Purpose } from "../../core/pages";
import type { CompiledPage } from "../../core/pages/publish/compiled";
import { at, count } from "../columns";

export const Page = defineEntity({
  name: "Page",
  tableName: "page",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    kind: p.text().$type<PageKind>(),
    key: p.text(),
    slug: p.text(),
    draft: p.json().$type<PageContent>(),
    published: p.json().$type<PageContent>().nullable(),
    compiled: p.json().$type<CompiledPage>().nullable(),
    publishedAt: at().nullable(),
    version: p.integer(),
    /** Another version of this page, to be tested beside it. */
    variantOf: p.uuid().nullable(),
    /** Its share of the visitors, against those of the page's other versions. */
    weight: p.integer().default(1),
    /** When it left its launch; it is not public then, and keeps its address for the case that it comes back. */
    archivedAt: at().nullable(),
  },
});
/** An address that a page had before: it leads on to where the page is now. */
export const PageAddress = defineEntity({
  name: "PageAddress",
  tableName: "page_address",
  properties: { launchId: p.uuid().primary(), slug: p.text().primary(), pageId: p.uuid(), leftAt: at() },
});
/** A state of a page's draft. Saves of one person within a minute are one version. */
export const PageVersion = defineEntity({
  name: "PageVersion",
  tableName: "page_version",
  properties: {
    id: p.uuid().primary(),
    pageId: p.uuid(),
    version: p.integer(),
    content: p.json().$type<PageContent>(),
    at: at(),
    userId: p.uuid().nullable(),
    /** Whether this state was made public. */
    published: p.boolean(),
  },
});
/** A page that the vendor keeps to start others from. */
export const PageTemplate = defineEntity({
  name: "PageTemplate",
  tableName: "page_template",
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    kind: p.text().$type<PageKind>(),
    purpose: p.text().$type<Purpose>(),
    content: p.json().$type<PageContent>(),
    createdAt: at(),
    userId: p.uuid().nullable(),
  },
});
/** An uploaded picture, film or file. Its bytes lie in `media_file`, one row for each width and format. */
export const Media = defineEntity({
  name: "Media",
  tableName: "media",
  properties: {
    id: p.uuid().primary(),
    kind: p.text().$type<MediaFacts["kind"]>(),
    name: p.text(),
    hash: p.text(),
    alt: p.text(),
    width: p.integer(),
    height: p.integer(),
    widths: p
      .array((text) => Number(text))
      .columnType("int[]")
      .$type<number[]>(),
    focalX: p.integer(),
    focalY: p.integer(),
    extension: p.text(),
    bytes: p.bigint("number"),
    createdAt: at(),
    createdBy: p.uuid().nullable(),
  },
});
/** Where the bytes of an upload lie, one row for each width and format. */
export const MediaFile = defineEntity({
  name: "MediaFile",
  tableName: "media_file",
  properties: {
    mediaId: p.uuid().primary(),
    name: p.text().primary(),
    body: p.blob().nullable(),
    sha256: p.text().nullable(),
    bytes: count().nullable(),
  },
});
export const PageComment = defineEntity({
  name: "PageComment",
  tableName: "page_comment",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    page: p.text(),
    personId: p.uuid(),
    name: p.text(),
    body: p.text(),
    at: at(),
    state: p.text().$type<"waiting" | "shown" | "hidden">().default("waiting"),
    decidedAt: at().nullable(),
    decidedBy: p.uuid().nullable(),
    reply: p.text().default(""),
    repliedAt: at().nullable(),
  },
});
/** Who of the desk has a page open. */
export const PagePresence = defineEntity({
  name: "PagePresence",
  tableName: "page_presence",
  properties: {
    pageId: p.uuid().primary(),
    userId: p.uuid().primary(),
    seenAt: at(),
  },
});

export type Page = InferEntity<typeof Page>;
export type PageAddress = InferEntity<typeof PageAddress>;
export type PageVersion = InferEntity<typeof PageVersion>;
export type PageTemplate = InferEntity<typeof PageTemplate>;
export type Media = InferEntity<typeof Media>;
export type MediaFile = InferEntity<typeof MediaFile>;
export type PageComment = InferEntity<typeof PageComment>;
export type PagePresence = InferEntity<typeof PagePresence>;
