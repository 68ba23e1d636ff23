import { Launch } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { found } from "../app/refusal";
import { loadBundle, type LaunchBundle } from "./bundle";

/** The launch of a desk screen or endpoint, fresh from the database; refuses with 404 where there is none. */
export const deskLaunch = async (em: EntityManager, slug: string | undefined): Promise<LaunchBundle> =>
  found(await loadBundle(em, { slug: slug ?? "" }), "launch");

/** All launches by name. */
export const listLaunches = async (em: EntityManager): Promise<{ id: string; slug: string; name: string }[]> =>
  (await em.find(Launch, {}, { orderBy: { name: 1 } })).map(({ id, slug, name }) => ({ id, slug, name }));
