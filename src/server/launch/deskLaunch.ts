import type { EntityManager } from "../../store/orm";
import { found } from "../app/refusal";
import { loadBundle, type LaunchBundle } from "./bundle";

/** The launch of a desk screen or endpoint, fresh from the database; refuses with 404 where there is none. */
export const deskLaunch = async (em: EntityManager, slug: string | undefined): Promise<LaunchBundle> =>
  found(await loadBundle(em, { slug: slug ?? "" }), "launch");
