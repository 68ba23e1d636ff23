import { randomUUID } from "node:crypto";
import { Page } from "../../store/tables";
import type { EntityManager } from "../../store/orm";

/** A page as it begins: a draft that nobody sees. Not written yet. */
export const newPage = (em: EntityManager, page: Pick<Page, "launchId" | "kind" | "key" | "slug" | "draft"> & { variantOf?: string }): Page =>
  em.create(Page, { ...page, id: randomUUID(), published: null, compiled: null, publishedAt: null, version: 1 });
