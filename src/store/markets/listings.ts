import { randomUUID } from "node:crypto";
import type { EntityManager } from "../orm";

/** Makes a launch's listing on a marketplace as a draft, where there is none. */
export const draftListing = async (em: EntityManager, launchId: string, productId: string, marketplace: string): Promise<void> => {
  await em.execute(
    "insert into listing (id, launch_id, product_id, marketplace) values (?, ?, ?, ?) on conflict (launch_id, marketplace) do nothing",
    [randomUUID(), launchId, productId, marketplace],
  );
};

/** How many bytes the picture of a listing has; 0 where it has none. */
export const pictureBytes = async (em: EntityManager, id: string): Promise<number> => {
  const [row] = await em.execute<{ bytes: number | null }[]>("select octet_length(picture) as bytes from listing where id = ?", [id]);
  return row?.bytes ?? 0;
};

/** The picture of a listing. */
export const listingPicture = async (em: EntityManager, id: string): Promise<Buffer> => {
  const [row] = await em.execute<{ picture: Buffer }[]>("select picture from listing where id = ?", [id]);
  return row!.picture;
};
