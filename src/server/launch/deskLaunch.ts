import { distinctNames } from "../../core/figures";
import { Launch } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { required } from "../platform";
import { loadLaunch, type LaunchContext } from "./launchContext";

/** The launch of a desk screen or endpoint, fresh from the database; refuses with 404 where there is none. */
export const deskLaunch = async (em: EntityManager, slug: string | undefined): Promise<LaunchContext> =>
  required(await loadLaunch(em, { slug: slug ?? "" }), "launch");

/** All launches by name, archived ones too, since orders and links name them; two of one name by their addresses. */
export const listLaunches = async (em: EntityManager): Promise<{ id: string; slug: string; name: string }[]> =>
  distinctNames(
    (await em.find(Launch, {}, { fields: ["id", "slug", "name"], orderBy: { name: 1 } })).map(({ id, slug, name }) => ({ id, slug, name })),
    ({ slug }) => `/${slug}`,
  );

/** The zone in which screens outside a launch show their moments: that of the newest launch, UTC where there is none. */
export const deskZone = async (em: EntityManager): Promise<string> => {
  const [newest] = await em.find(Launch, {}, { fields: ["zone"], orderBy: { createdAt: -1 }, limit: 1 });
  return newest?.zone ?? "UTC";
};
